import { useMutation } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import type { ActView } from '../api/types';
import { useActDone } from '../app/acts';
import { AskDialog, WhyField } from '../ui/AskDialog';
import { useDraft } from '../ui/useDraft';

interface Props {
  title: string;
  /** What it means. */
  children: ReactNode;
  /** What is asked; absent where nothing has to be said. */
  asked?: string;
  word: string;
  send: (words: string) => Promise<ActView>;
  done?: () => void;
  close: () => void;
}

/** Something that needs a reason, or only a second look. */
export function ReasonDialog({ title, children, asked, word, send, done, close }: Props) {
  const [words, setWords, sent] = useDraft(`reason.${title}`);
  const told = useActDone();
  const act = useMutation({
    mutationFn: () => send(words),
    onSuccess: (view) => {
      sent();
      told(view);
      close();
      done?.();
    },
  });
  return (
    <AskDialog title={title} close={close} act={act} word={word} fields={asked === undefined ? [] : ['why']}>
      {(wrong) => (
        <>
          <div>{children}</div>
          {asked !== undefined ? <WhyField label={asked} value={words} change={setWords} wrong={wrong['why']} /> : null}
        </>
      )}
    </AskDialog>
  );
}
