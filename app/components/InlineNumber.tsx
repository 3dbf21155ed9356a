import type { ComponentProps, ReactNode } from "react";

type InlineNumberProps = Omit<ComponentProps<"input">, "type"> & {
  /** What stands before the number in the sentence, and after it. */
  before: ReactNode;
  after?: ReactNode;
};

/** A number to type inside a sentence; the words around it are its label. */
export function InlineNumber({ before, after, ...input }: InlineNumberProps) {
  return (
    <label>
      {before} <input type="number" {...input} />
      {after && <> {after}</>}
    </label>
  );
}
