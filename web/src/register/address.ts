/** Addresses of the pages of the register. */
export const siteAddress = (code: string): string => `/register/site/${encodeURIComponent(code)}`;
export const positionAddress = (code: string): string => `/register/position/${encodeURIComponent(code)}`;
export const measuringAddress = (code: string): string => `/register/measuring/${encodeURIComponent(code)}`;
export const assetAddress = (id: string): string => `/asset/${encodeURIComponent(id)}`;
