/** Text that a spreadsheet program would take for a formula is made plain with an apostrophe before it. */
export const harmless = (text: string): string => (/^[=+\-@\t\r]/.test(text) ? `'${text}` : text);
