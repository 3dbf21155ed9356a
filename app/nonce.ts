import { createContext } from "react";

/** The page's script nonce while it is rendered on the server; browsers hide it from scripts afterwards. */
export const NonceContext = createContext<string | undefined>(undefined);
