/** One of a set of tests, as it is edited. */
export interface Wanted {
  readonly procedure: string;
  readonly variant?: string;
}

/** The list with one of it a place earlier or later; the same list where there is none. */
export function moved(items: readonly Wanted[], at: number, by: -1 | 1): readonly Wanted[] {
  const one = items[at];
  const other = items[at + by];
  if (one === undefined || other === undefined) {
    return items;
  }
  return items.map((item, i) => (i === at ? other : i === at + by ? one : item));
}

/** The list with the variant of one; an empty code is the procedure as it stands. */
export const withVariant = (items: readonly Wanted[], at: number, variant: string): readonly Wanted[] =>
  items.map((item, i) =>
    i !== at ? item : variant === '' ? { procedure: item.procedure } : { procedure: item.procedure, variant },
  );

/** What may still be added: each procedure is in a set once. */
export const remaining = <T extends { readonly code: string }>(
  choices: readonly T[],
  items: readonly Wanted[],
): readonly T[] => choices.filter((c) => items.every((i) => i.procedure !== c.code));
