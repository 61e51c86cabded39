/** Days as people type them, as pure functions over calendar days `2026-11-27`. */
import { addDays, daysBetween } from './plan';

const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];
const WEEKDAYS = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'];
/** Days that a day without a year may lie back; further back it is that of the next year. */
const BACK = 92;

const two = (n: number): string => String(n).padStart(2, '0');

/** A day of the calendar; null where there is none, such as 30 February. */
function made(year: number, month: number, day: number): string | null {
  const at = new Date(Date.UTC(year, month - 1, day));
  return at.getUTCFullYear() === year && at.getUTCMonth() === month - 1 && at.getUTCDate() === day
    ? `${String(year).padStart(4, '0')}-${two(month)}-${two(day)}`
    : null;
}

/** The day of that name that is meant: ahead, or not long ago; with `past`, back, or soon. */
function near(month: number, day: number, today: string, past: boolean): string | null {
  const year = Number(today.slice(0, 4));
  // A leap day may be four years off, and eight at the turn of a century.
  const all = Array.from({ length: 17 }, (_, i) => year - 8 + i)
    .map((y) => made(y, month, day))
    .filter((d): d is string => d !== null);
  return past
    ? (all.filter((d) => daysBetween(today, d) <= BACK).pop() ?? null)
    : (all.find((d) => daysBetween(today, d) >= -BACK) ?? null);
}

function full(year: string): number {
  return year.length === 2 ? 2000 + Number(year) : Number(year);
}

/** So many months on, on the same day or the last of its month. */
function addMonths(day: string, months: number): string {
  const [y = 0, m = 1, d = 1] = day.split('-').map(Number);
  const first = new Date(Date.UTC(y, m - 1 + months, 1));
  const last = new Date(Date.UTC(first.getUTCFullYear(), first.getUTCMonth() + 1, 0)).getUTCDate();
  return `${first.getUTCFullYear()}-${two(first.getUTCMonth() + 1)}-${two(Math.min(d, last))}`;
}

/**
 * The day that a text means: `2.12.`, `2/12`, `2.12.2026`, `2 dec`, `2 december 2026`, `dec 2`, `2026-12-02`, `+3 w`,
 * `-2 d`, `+1 m`, `today`, `tomorrow`, `mon`. Days before months, as everywhere here. Null where it means none.
 * @param past whether a day without a year is rather one that is gone
 */
export function typedDay(text: string, today: string, past = false): string | null {
  const words = text.trim().toLowerCase().replace(/\s+/g, ' ');
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(words);
  if (iso !== null) {
    return made(Number(iso[1]), Number(iso[2]), Number(iso[3]));
  }
  const dotted = /^(\d{1,2})[./] ?(\d{1,2})(?:[./] ?(\d{4}|\d{2})?)?$/.exec(words);
  if (dotted !== null) {
    const [, day, month, year] = dotted;
    return year === undefined
      ? near(Number(month), Number(day), today, past)
      : made(full(year), Number(month), Number(day));
  }
  const named =
    /^(\d{1,2})\.? ?([a-z]{3,9})\.?,?(?: (\d{4}|\d{2}))?$/.exec(words) ??
    /^([a-z]{3,9})\.? (\d{1,2})(?:,? (\d{4}|\d{2}))?$/.exec(words);
  if (named !== null) {
    const [, one = '', other = '', year] = named;
    const [day, name] = /^\d/.test(one) ? [one, other] : [other, one];
    const month = MONTHS.indexOf(name.slice(0, 3)) + 1;
    const whole = new Intl.DateTimeFormat('en-GB', { month: 'long', timeZone: 'UTC' });
    if (
      month === 0 ||
      !whole
        .format(Date.UTC(2026, month - 1, 1))
        .toLowerCase()
        .startsWith(name.replace('sept', 'sep'))
    ) {
      return null;
    }
    return year === undefined ? near(month, Number(day), today, past) : made(full(year), month, Number(day));
  }
  const step = /^([+\-\u2212]) ?(\d{1,3}) ?(d|days?|w|weeks?|m|months?|y|years?)?$/.exec(words);
  if (step !== null) {
    const amount = Number(step[2]) * (step[1] === '+' ? 1 : -1);
    switch ((step[3] ?? 'd').charAt(0)) {
      case 'w':
        return addDays(today, 7 * amount);
      case 'm':
        return addMonths(today, amount);
      case 'y':
        return addMonths(today, 12 * amount);
      default:
        return addDays(today, amount);
    }
  }
  if (words === 'today' || words === 'tomorrow' || words === 'yesterday') {
    return addDays(today, { today: 0, tomorrow: 1, yesterday: -1 }[words]);
  }
  const weekday = words.length >= 2 ? WEEKDAYS.findIndex((d) => d.startsWith(words.slice(0, 3))) : -1;
  const names = ['monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday', 'sunday'];
  if (weekday >= 0 && (names[weekday] ?? '').startsWith(words)) {
    // The next one after today; the one that was, where days that are gone are asked for.
    const now = ((daysBetween('2026-11-30', today) % 7) + 7) % 7;
    const ahead = ((weekday - now + 6) % 7) + 1;
    return addDays(today, past ? ahead - 7 : ahead);
  }
  return null;
}

/** The time of day `08:05` that a text means: `8`, `805`, `8:05`, `8.05`, `17 h 30`. Null where it means none. */
export function typedClock(text: string): string | null {
  const found = /^(\d{1,2})(?: ?[:.h] ?(\d{2})|(\d{2}))?(?: ?h)?$/.exec(text.trim().toLowerCase());
  const hour = Number(found?.[1]);
  const minute = Number(found?.[2] ?? found?.[3] ?? 0);
  return found === null || hour > 23 || minute > 59 ? null : `${two(hour)}:${two(minute)}`;
}
