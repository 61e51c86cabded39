/** The page of what is tested in one go at a position. */
export const testSetAddress = (position: string): string => `/tests/${encodeURIComponent(position)}`;
