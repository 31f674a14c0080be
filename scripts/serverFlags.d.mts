export const SERVER_FLAGS: string[];
export const SERVER_ENV: Record<string, string>;
