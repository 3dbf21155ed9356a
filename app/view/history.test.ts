import { describe, expect, test } from "@jest/globals";
import { begin, change, redo, undo } from "./history";

describe("history", () => {
  test("takes back and does again, step by step", () => {
    const done = change(change(begin("a"), "b"), "c");
    const back = undo(undo(done));
    expect(back.now).toBe("a");
    expect(undo(back).now).toBe("a");
    expect(redo(redo(back)).now).toBe("c");
    expect(redo(redo(redo(back))).now).toBe("c");
  });

  test("a drag or a typed word is one step, also after another thing was touched in between", () => {
    const typed = change(change(change(begin(""), "1", "width"), "12", "width"), "12x", "height");
    expect(undo(typed).now).toBe("12");
    expect(undo(undo(typed)).now).toBe("");
    const again = change(undo(typed), "13", "height");
    expect(undo(again).now).toBe("12");
  });

  test("a new change ends what could be done again", () => {
    const changed = change(undo(change(begin(1), 2)), 3);
    expect(redo(changed).now).toBe(3);
    expect(undo(changed).now).toBe(1);
  });

  test("does not grow without end", () => {
    let history = begin(0);
    for (let i = 1; i <= 1000; i++) history = change(history, i);
    expect(history.past.length).toBeLessThanOrEqual(200);
    expect(history.now).toBe(1000);
  });
});
