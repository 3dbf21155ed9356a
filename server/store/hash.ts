/** Whether a text has the form of a file's SHA-256. */
export const isHash = (text: string): boolean => /^[0-9a-f]{64}$/.test(text);
