import { useState } from 'react';
import { typedClock } from '../state/dates';

interface Props {
  id?: string | undefined;
  'aria-label'?: string | undefined;
  'aria-invalid'?: boolean | undefined;
  'aria-describedby'?: string | undefined;
  /** A time of day `08:05`; empty for none. */
  value: string;
  /** Told when the field is left, or Enter is pressed in it. */
  onChange: (time: string) => void;
  disabled?: boolean | undefined;
  className?: string;
}

/** A time of day, typed as people write it (8, 805, 8.05, 17:30), shown as everywhere here: 08:05. */
export function TimeField({ value, onChange, disabled, className = 'w-[84px]', ...own }: Props) {
  const [text, setText] = useState<string | null>(null);
  const meant = text === null || text.trim() === '' ? value : typedClock(text);
  const leave = (): void => {
    if (meant !== null) {
      setText(null);
      if (meant !== value) {
        onChange(meant);
      }
    }
  };
  return (
    <input
      {...own}
      type="text"
      inputMode="numeric"
      autoComplete="off"
      disabled={disabled}
      placeholder="08:00"
      className={`font-mono text-ink ${className}`}
      value={text ?? value}
      aria-invalid={own['aria-invalid'] === true || meant === null}
      data-hint={meant === null ? 'Type a time as 8:05 or 17.30.' : undefined}
      onFocus={(e) => e.target.select()}
      onChange={(e) => setText(e.target.value)}
      onBlur={leave}
      onKeyDown={(e) => {
        if (e.key === 'Enter') {
          leave();
        } else if (e.key === 'Escape' && text !== null) {
          e.stopPropagation();
          setText(null);
        }
      }}
      data-time={value}
    />
  );
}
