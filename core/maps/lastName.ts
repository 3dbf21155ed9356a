/** A path without its folders; which file it is, a finding says by its `file`. */
export const lastName = (path: string) => path.slice(path.lastIndexOf("/") + 1);
