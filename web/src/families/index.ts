import type { Families, Family } from '../bench/family';
import { plain } from '../bench/plain';
import { breakers } from './breakers';
import { radios } from './radios';

/** The families that bring something to the pages. */
const all: readonly Family[] = [breakers, radios];

export const families: Families = { all, plain };
