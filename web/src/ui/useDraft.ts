import { useCallback, useState } from 'react';
import { drafts } from '../state/drafts';

/** A text that is being typed, kept until it is sent: it survives navigation, reload and a lost link. */
export function useDraft(key: string): [string, (text: string) => void, () => void] {
  const [state, setState] = useState({ key, text: drafts.read(key) });
  const current = state.key === key ? state.text : drafts.read(key);
  const write = useCallback(
    (text: string) => {
      drafts.write(key, text);
      setState({ key, text });
    },
    [key],
  );
  const clear = useCallback(() => write(''), [write]);
  return [current, write, clear];
}
