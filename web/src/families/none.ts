import type { Family } from '../bench/family';

/** Families from elsewhere: none. A build with tests has those of tests. */
export const more: readonly Family[] = [];
