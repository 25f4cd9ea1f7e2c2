export const ROOMS: readonly (readonly [room: string, about: string])[];
export function roomOf(path: string): number;
export function picture(): string;
