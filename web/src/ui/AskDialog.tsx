import type { ReactNode } from 'react';
import { Problem } from '../api/http';
import { Button, Notice } from './controls';
import { Dialog } from './Dialog';
import { Field } from './Field';
import { useWrongField } from './useWrongField';

/** What was wrong with each field, by its name. */
export type Wrong = Readonly<Record<string, string>>;

interface Props {
  title: string;
  close: () => void;
  /** What is done when it is sent. */
  act: { mutate: () => void; isPending: boolean; error: Error | null };
  /** What stands on the button that sends it, and while it is on its way. */
  word: string;
  waiting?: string;
  /** Whether there is enough to send. */
  ready?: boolean;
  /** Names of the fields that show what is wrong with them; what is wrong with any other stands below them. */
  fields: readonly string[];
  /** The fields. */
  children: (wrong: Wrong) => ReactNode;
  /** What stands below the form. */
  below?: ReactNode;
}

/** Asks for something and does it: what is wrong stands at its field, anything else above the two ways out. */
export function AskDialog({ title, close, act, word, waiting = word, ready = true, fields, children, below }: Props) {
  const ref = useWrongField(act.error);
  const wrong: Wrong = act.error instanceof Problem ? act.error.fields : {};
  return (
    <Dialog title={title} close={close}>
      <form
        ref={ref}
        className="grid gap-4"
        onSubmit={(e) => {
          e.preventDefault();
          if (ready) {
            act.mutate();
          }
        }}
      >
        {children(wrong)}
        {Object.entries(wrong).map(([field, words]) =>
          fields.includes(field) ? null : <Notice key={field}>{words}</Notice>,
        )}
        {act.error !== null && Object.keys(wrong).length === 0 ? <Notice>{act.error.message}</Notice> : null}
        <p className="flex justify-end gap-3">
          <Button onClick={close}>Leave it</Button>
          <Button weight="primary" type="submit" disabled={act.isPending || !ready} data-send>
            {act.isPending ? waiting : word}
          </Button>
        </p>
      </form>
      {below}
    </Dialog>
  );
}

/** The words that go with it, on one line; where the cursor stands first. */
export function WhyField({
  label = 'Why',
  value,
  change,
  wrong,
  hint,
  inputMode = 'text',
}: {
  label?: string;
  value: string;
  change: (value: string) => void;
  wrong: string | undefined;
  hint?: string;
  inputMode?: 'text' | 'decimal';
}) {
  return (
    <Field label={label} required wrong={wrong} hint={hint}>
      {(own) => (
        <input
          {...own}
          className="w-full"
          inputMode={inputMode}
          value={value}
          autoFocus
          onChange={(e) => change(e.target.value)}
          data-why
        />
      )}
    </Field>
  );
}
