export const ROLES = ['owner', 'manager', 'analyst', 'reviewer'] as const;
export type Role = (typeof ROLES)[number];
