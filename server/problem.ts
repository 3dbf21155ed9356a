/** Something that the asker can put right; shown as a message on a screen and as RFC 9457 over HTTP. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    readonly detail: string,
    /** JSON pointer of the field at fault. */
    readonly pointer?: string,
  ) {
    super(detail);
    this.name = "Problem";
  }
}

export const notFound = (what: string) => new Problem(404, "Not found", `There is no such ${what}.`);

export const badField = (pointer: string, detail: string) =>
  new Problem(422, "Not acceptable", detail, pointer);

export const conflict = (detail: string, pointer?: string) => new Problem(409, "Conflict", detail, pointer);

/** Somebody saved in the meantime. */
export const savedMeanwhile = (detail: string) => new Problem(412, "Saved meanwhile", detail);
