/** The real size after which an image begins again, in millimetres. */
export interface Repeat {
  width: number;
  height: number;
}
