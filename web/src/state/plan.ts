/** Days, weeks and windows of the plan, as pure functions over calendar days `2026-11-27`. */

const MS_A_DAY = 86_400_000;

const number = (day: string): number => Math.round(Date.parse(`${day}T00:00:00Z`) / MS_A_DAY);
const day = (n: number): string => new Date(n * MS_A_DAY).toISOString().slice(0, 10);

export const addDays = (from: string, days: number): string => day(number(from) + days);

/** Days from one to another; negative backwards. */
export const daysBetween = (from: string, to: string): number => number(to) - number(from);

/** The Monday of its week. */
export const mondayOf = (of: string): string => addDays(of, -((number(of) + 3) % 7));

/** A window with what was decided, as a job has it. */
export interface Window {
  opens: string;
  due: string;
  closes: string;
  deferredTo?: string | undefined;
}

/** Why a job cannot go to a day; null where it can. The server decides; this says it while one drags. */
export function outside(job: Window, to: string, today: string): 'past' | 'before' | 'after' | null {
  if (to < today) {
    return 'past';
  }
  if (to < job.opens) {
    return 'before';
  }
  const last = job.deferredTo !== undefined && job.deferredTo > job.closes ? job.deferredTo : job.closes;
  return to > last && today <= job.closes ? 'after' : null;
}

/** The last day of a window that is still open is where a drag beyond it stops making sense. */
export function nearestInside(job: Window, to: string, today: string): string {
  const first = job.opens > today ? job.opens : today;
  return to < first ? first : outside(job, to, today) === 'after' ? job.closes : to;
}

/** Minutes as people say them: 5 h 20, 45 min. */
export function hours(minutes: number): string {
  const whole = Math.round(minutes);
  const h = Math.floor(whole / 60);
  return whole < 60 ? `${whole} min` : whole % 60 === 0 ? `${h} h` : `${h} h ${String(whole % 60).padStart(2, '0')}`;
}

/** A minute of the day as a clock shows it. */
export const clockOf = (minute: number): string =>
  `${String(Math.floor(minute / 60) % 24).padStart(2, '0')}:${String(Math.round(minute) % 60).padStart(2, '0')}`;

/** The minute of the day that a clock shows; null where it shows none. */
export function minuteOf(clock: string): number | null {
  const found = /^([01]?\d|2[0-3]):([0-5]\d)$/.exec(clock.trim());
  return found === null ? null : Number(found[1]) * 60 + Number(found[2]);
}

/** A list with one of it one place further on; the same list where there is none. */
export function moved<T>(list: readonly T[], at: number, by: number): T[] {
  const to = at + by;
  const next = [...list];
  // A negative place would count from the end.
  const [one] = at < 0 ? [] : next.splice(at, 1);
  if (one === undefined || to < 0 || to > next.length) {
    return [...list];
  }
  next.splice(to, 0, one);
  return next;
}

/** The length of a window for people: P14D is 14 days, P2M 2 months. */
export function periodWords(period: string): string {
  const [, years, months, days] = /^P(?:(\d+)Y)?(?:(\d+)M)?(?:(\d+)D)?$/.exec(period) ?? [];
  const parts = [
    [years, 'year'],
    [months, 'month'],
    [days, 'day'],
  ].flatMap(([n, word]) => (n === undefined || n === '0' ? [] : [`${n} ${word}${n === '1' ? '' : 's'}`]));
  return parts.length === 0 ? 'none' : parts.join(' ');
}
