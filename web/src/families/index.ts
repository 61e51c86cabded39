import { more } from '#more-families';
import type { Families, Family } from '../bench/family';
import { plain } from '../bench/plain';

/** The families that bring something to the pages: each has a folder here, and its `family` in `index.tsx`. */
const found = import.meta.glob<Family>('./*/index.tsx', { eager: true, import: 'family' });

export const families: Families = { all: [...Object.values(found), ...more], plain };
