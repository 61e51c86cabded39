/** The page of a series at a position. */
export const seriesAddress = (position: string): string => `/series/${encodeURIComponent(position)}`;
