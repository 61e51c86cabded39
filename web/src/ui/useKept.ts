import { useCallback, useState } from 'react';
import { drafts } from '../state/drafts';

function read<T>(key: string, empty: T): T {
  const text = drafts.read(key);
  if (text === '') {
    return empty;
  }
  try {
    return { ...empty, ...(JSON.parse(text) as T) };
  } catch {
    // What was kept is of another version of the page, or not ours.
    return empty;
  }
}

/**
 * A form that is being filled in, kept until it is sent or thrown away: it survives navigation, reload and a
 * lost link.
 */
export function useKept<T extends object>(key: string, empty: T): [T, (change: (was: T) => T) => void, () => void] {
  const [value, setValue] = useState<T>(() => read(key, empty));
  const change = useCallback(
    (next: (was: T) => T) =>
      setValue((was) => {
        const now = next(was);
        drafts.write(key, JSON.stringify(now));
        return now;
      }),
    [key],
  );
  const drop = useCallback(() => drafts.write(key, ''), [key]);
  return [value, change, drop];
}
