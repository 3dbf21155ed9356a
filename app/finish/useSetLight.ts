import { useEffect, useState } from "react";
import { FIRST_LIGHT, keptLight, type SetLight } from "./light";

const KEY = "kalonomy-light";

/** The light and the shape, from one material to the next and past saving: what is compared is looked at alike. */
export function useSetLight(): [SetLight, (light: SetLight) => void] {
  const [light, setLight] = useState(FIRST_LIGHT);
  useEffect(() => setLight(keptLight(sessionStorage.getItem(KEY))), []);
  return [
    light,
    (changed) => {
      setLight(changed);
      sessionStorage.setItem(KEY, JSON.stringify(changed));
    },
  ];
}
