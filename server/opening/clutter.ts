/** Files that archives and folders carry along and nobody means. */
const CLUTTER = /(^|\/)(__MACOSX\/|\.DS_Store$|Thumbs\.db$|desktop\.ini$|\._)/i;

export const isClutter = (path: string): boolean => CLUTTER.test(path);
