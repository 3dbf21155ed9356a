/**
 * Why something that came cannot be used, in a sentence for people. The message of any other error is written by a library or
 * by the language, and is shown to nobody.
 */
export class Refusal extends Error {
  constructor(message: string) {
    super(message);
    this.name = "Refusal";
  }
}
