import { CalendarDays } from 'lucide-react';
import { Popover } from 'radix-ui';
import { lazy, Suspense, useId, useState, type KeyboardEvent } from 'react';
import { typedDay } from '../state/dates';
import { dayWithYear } from '../state/words';

const Calendar = lazy(() => import('./Calendar').then((m) => ({ default: m.Calendar })));

interface Props {
  id?: string | undefined;
  'aria-label'?: string | undefined;
  'aria-invalid'?: boolean | undefined;
  'aria-describedby'?: string | undefined;
  /** A day `2026-11-27`; empty for none. */
  value: string;
  onChange: (day: string) => void;
  /** Whether a change is told as it is typed, or when the field is left. */
  told?: 'typed' | 'left';
  /** Whether a day without a year is rather one that is gone. */
  past?: boolean;
  /** First and last day that can be picked. */
  min?: string | undefined;
  max?: string | undefined;
  disabled?: boolean | undefined;
  className?: string;
  'data-day-field'?: string;
}

/** A day, typed as people write it or picked from a calendar, shown as everywhere here: 27 Nov 2026. */
export function DateField({
  value,
  onChange,
  told = 'typed',
  past = false,
  min,
  max,
  disabled,
  className = '',
  ...own
}: Props) {
  const [text, setText] = useState<string | null>(null);
  const [open, setOpen] = useState(false);
  const words = useId();
  const today = new Date().toLocaleDateString('sv');
  const shown = text ?? (value === '' ? '' : dayWithYear(value));
  const meant = text === null ? value : text.trim() === '' ? '' : typedDay(text, today, past);
  const wrong = text !== null && text.trim() !== '' && meant === null;
  const leave = (): void => {
    if (wrong) {
      return;
    }
    setText(null);
    if (meant !== null && meant !== value) {
      onChange(meant);
    }
  };
  const key = (e: KeyboardEvent): void => {
    if (e.key === 'Enter') {
      leave();
    } else if (e.key === 'Escape' && text !== null) {
      e.stopPropagation();
      setText(null);
    } else if (e.key === 'ArrowDown' && e.altKey) {
      e.preventDefault();
      setOpen(true);
    }
  };
  return (
    <span className={`relative inline-flex flex-col ${className === '' ? 'w-[10.5rem]' : className}`}>
      <span className="relative">
        <input
          {...own}
          className="w-full pr-11!"
          type="text"
          size={12}
          autoComplete="off"
          spellCheck={false}
          disabled={disabled}
          placeholder="2.12. or +3 w"
          value={shown}
          aria-invalid={own['aria-invalid'] === true || wrong}
          aria-describedby={wrong ? words : own['aria-describedby']}
          onFocus={(e) => e.target.select()}
          onChange={(e) => {
            setText(e.target.value);
            const now = e.target.value.trim() === '' ? '' : typedDay(e.target.value, today, past);
            if (told === 'typed' && now !== null && now !== value) {
              onChange(now);
            }
          }}
          onBlur={leave}
          onKeyDown={key}
          data-day={value}
        />
        <Popover.Root open={open} onOpenChange={setOpen}>
          <Popover.Trigger
            type="button"
            disabled={disabled}
            aria-label="Pick a day"
            className="absolute inset-y-0 right-0 flex w-11 items-center justify-center text-quiet hover:text-ink"
          >
            <CalendarDays size={17} aria-hidden />
          </Popover.Trigger>
          <Popover.Portal>
            <Popover.Content
              align="end"
              sideOffset={4}
              className="z-[60] rounded-xs border border-ink bg-paper p-3 shadow-[0_8px_24px_rgb(0_0_0/0.25)]"
              aria-label="Calendar"
            >
              <Suspense fallback={<p className="p-4 text-quiet">Opening the calendar…</p>}>
                <Calendar
                  value={meant ?? value}
                  min={min}
                  max={max}
                  picked={(day) => {
                    setText(null);
                    setOpen(false);
                    onChange(day);
                  }}
                />
              </Suspense>
            </Popover.Content>
          </Popover.Portal>
        </Popover.Root>
      </span>
      {wrong ? (
        <span id={words} role="alert" className="mt-0.5 border-l-4 border-ink pl-2 text-[14px]">
          Type a day as 2.12., 2 dec or +3 w.
        </span>
      ) : null}
    </span>
  );
}
