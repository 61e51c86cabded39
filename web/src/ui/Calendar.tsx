import { DayPicker } from 'react-day-picker';
import { enGB } from 'react-day-picker/locale';

interface Props {
  value: string;
  min: string | undefined;
  max: string | undefined;
  picked: (day: string) => void;
}

const date = (day: string): Date => {
  const [y = 0, m = 1, d = 1] = day.split('-').map(Number);
  return new Date(y, m - 1, d);
};

/** A month with its days, weeks from Monday on. */
export function Calendar({ value, min, max, picked }: Props) {
  const at = value === '' ? undefined : date(value);
  return (
    <DayPicker
      mode="single"
      autoFocus
      required
      locale={enGB}
      weekStartsOn={1}
      showWeekNumber
      selected={at}
      defaultMonth={at ?? (min === undefined ? new Date() : date(min))}
      disabled={[
        ...(min === undefined ? [] : [{ before: date(min) }]),
        ...(max === undefined ? [] : [{ after: date(max) }]),
      ]}
      onSelect={(day) => (day === undefined ? undefined : picked(day.toLocaleDateString('sv')))}
      classNames={{
        months: 'relative',
        month_caption: 'flex h-10 items-center pl-2 font-semibold',
        nav: 'absolute top-0 right-0 flex',
        button_previous: 'flex h-10 w-10 items-center justify-center',
        button_next: 'flex h-10 w-10 items-center justify-center',
        chevron: 'h-5 w-5 fill-ink',
        weekday: 'h-8 w-10 text-center font-condensed text-[13px] font-normal text-quiet',
        week_number: 'w-8 text-center font-mono text-[12px] text-quiet',
        week_number_header: 'w-8',
        day: 'p-0 text-center',
        day_button: 'h-10 w-10 font-mono text-[14px] hover:bg-band',
        selected: 'bg-lake text-on-lake [&>button]:hover:bg-lake',
        today: 'font-semibold underline underline-offset-4',
        outside: 'text-quiet',
        disabled: 'text-quiet line-through',
      }}
    />
  );
}
