import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import { change, type Kind } from '../api/register';
import { Problem } from '../api/http';
import { useActDone } from '../app/acts';
import { useDraft } from '../ui/useDraft';
import { Option, Select } from '../ui/Select';

interface Props {
  kind: Kind;
  of: string;
  field: string;
  label: string;
  value: string;
  /** What is shown in place of the value; the value itself is edited. */
  shown?: string;
  choices?: readonly string[];
  /** What stands there while there is no value. */
  empty?: string;
  className?: string;
}

/**
 * A value that is changed where it stands: Enter takes it, Escape leaves it as it was. What is typed is kept
 * until then.
 */
export function Editable({ kind, of, field, label, value, shown, choices, empty = 'add', className = '' }: Props) {
  const [draft, write, drop] = useDraft(`register.${kind}.${of}.${field}`);
  const [open, setOpen] = useState(draft !== '');
  const [typed, setTyped] = useState(draft === '' ? value : draft);
  const done = useActDone();
  const queries = useQueryClient();
  const box = useRef<HTMLInputElement & HTMLButtonElement>(null);
  const button = useRef<HTMLButtonElement>(null);
  const save = useMutation({
    mutationFn: () => change(kind, of, [{ field, was: value, now: typed }]),
    onSuccess: (act) => {
      close();
      done(act);
    },
    onError: (e) => {
      // Somebody else was there first: what they wrote is shown, and saved over only by who has seen it.
      if (e instanceof Problem && e.kind === 'changed-meanwhile') {
        void queries.invalidateQueries({ queryKey: ['register'] });
      }
    },
  });
  useEffect(() => {
    if (open) {
      box.current?.focus();
      box.current?.select?.();
    }
  }, [open]);
  const close = (): void => {
    drop();
    setOpen(false);
    save.reset();
    queueMicrotask(() => button.current?.focus());
  };
  const type = (text: string): void => {
    setTyped(text);
    write(text === value ? '' : text);
  };
  const take = (): void => (typed.trim() === value ? close() : save.mutate());
  const keys = (e: KeyboardEvent): void => {
    if (e.key === 'Enter') {
      e.preventDefault();
      take();
    } else if (e.key === 'Escape') {
      e.stopPropagation();
      close();
    }
  };
  if (!open) {
    return (
      <button
        ref={button}
        type="button"
        className={`min-h-8 min-w-0 cursor-text text-left decoration-quiet decoration-dotted underline-offset-4 hover:underline max-[1000px]:min-h-11 ${value === '' ? 'font-sans text-[14px] text-quiet' : ''} ${className}`}
        aria-label={`${label}: ${value === '' ? empty : (shown ?? value)}. Change it`}
        data-field={field}
        onClick={() => {
          setTyped(value);
          setOpen(true);
        }}
      >
        {value === '' ? empty : (shown ?? value)}
      </button>
    );
  }
  const problem = save.error;
  const own = { 'aria-label': label, 'aria-invalid': problem !== null, onKeyDown: keys, 'data-editing': field };
  return (
    <span className="block min-w-0">
      <span className="flex items-center gap-1">
        {choices !== undefined ? (
          <Select
            ref={box}
            {...own}
            className="min-w-0 flex-1 font-sans"
            value={typed}
            onChange={(picked) => type(picked)}
          >
            {choices.includes(typed) ? null : <Option value={typed}>{typed}</Option>}
            {choices.map((c) => (
              <Option key={c} value={c}>
                {c}
              </Option>
            ))}
          </Select>
        ) : (
          <input
            ref={box}
            {...own}
            className="w-full min-w-16 flex-1 font-sans"
            value={typed}
            readOnly={save.isPending}
            onChange={(e) => type(e.target.value)}
          />
        )}
        <button
          type="button"
          className="min-h-11 border border-lake bg-lake px-2.5 text-[14px] font-semibold text-on-lake"
          disabled={save.isPending}
          onClick={take}
        >
          {save.isPending ? '…' : 'Save'}
        </button>
        <button
          type="button"
          className="min-h-11 px-1.5 text-[14px] font-semibold text-lake"
          onClick={close}
          aria-label={`Leave ${label} as it was`}
        >
          Leave
        </button>
      </span>
      {problem !== null ? (
        <span
          role="alert"
          className="mt-0.5 block border-l-4 border-ink pl-2 text-left font-sans text-[14px]"
          data-wrong
        >
          {problem instanceof Problem ? (problem.fields[field] ?? problem.message) : problem.message}
        </span>
      ) : null}
    </span>
  );
}
