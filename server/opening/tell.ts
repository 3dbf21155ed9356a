/** Called with what a task tells on its way. */
export type Tell = (value: unknown) => void;
