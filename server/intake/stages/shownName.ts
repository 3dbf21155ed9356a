/** A file as people are told of it: with the zip that it came in. */
export const shownName = ({ scope, file }: { scope: string; file: string }): string =>
  scope === "" ? file : `${scope}/${file}`;
