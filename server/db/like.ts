/** Text as LIKE takes it, with its own signs meant as they are. */
export const literally = (text: string): string => text.replace(/[\\%_]/g, '\\$&');
