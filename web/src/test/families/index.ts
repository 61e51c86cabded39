import type { Family } from '../../bench/family';

/** The families of tests alone. */
export const more: readonly Family[] = Object.values(
  import.meta.glob<Family>('./*/index.tsx', { eager: true, import: 'family' }),
);
