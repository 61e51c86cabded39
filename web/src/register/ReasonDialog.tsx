import { useMutation } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { Problem } from '../api/http';
import type { ActView } from '../api/types';
import { useActDone } from '../app/acts';
import { Button, Notice } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { Field } from '../ui/Field';
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
  const wrong = act.error instanceof Problem ? act.error.fields['why'] : undefined;
  return (
    <Dialog title={title} close={close}>
      <form
        onSubmit={(e) => {
          e.preventDefault();
          act.mutate();
        }}
      >
        <div className="mb-4">{children}</div>
        {asked !== undefined ? (
          <Field label={asked} required wrong={wrong}>
            {(own) => (
              <input
                {...own}
                className="w-full"
                value={words}
                autoFocus
                onChange={(e) => setWords(e.target.value)}
                data-why
              />
            )}
          </Field>
        ) : null}
        {act.error !== null && wrong === undefined ? (
          <div className="mt-3">
            <Notice>{act.error.message}</Notice>
          </div>
        ) : null}
        <p className="mt-5 flex justify-end gap-3">
          <Button onClick={close}>Leave it</Button>
          <Button weight="primary" type="submit" disabled={act.isPending} data-send>
            {word}
          </Button>
        </p>
      </form>
    </Dialog>
  );
}
