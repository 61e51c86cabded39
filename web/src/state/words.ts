/** Words for figures and times that are not readings. Readings come from the server as they are to be shown. */

// A sixth of an em: the type's own thin space is so thin that figure and unit run together.
const THIN = '\u2006';

/** A figure with its unit, joined by a thin space. */
export const withUnit = (figure: string, unit: string): string => (unit === '' ? figure : figure + THIN + unit);

const SYMBOLS: Readonly<Record<string, string>> = { '1': '', '[ppm]': 'ppm', Cel: '°C', '[pH]': 'pH' };

/** The symbol of a unit by its UCUM code: mOhm is written mΩ, V.A as VA, and a bare number has none. */
export const symbolOf = (code: string): string =>
  SYMBOLS[code] ??
  code
    .replace(/^([GMkmun]?)Ohm$/, '$1Ω')
    .replace(/^u/, 'µ')
    .replace(/[().]/g, '');

/** The unit of what lies between two values: levels against a reference are apart by decibels alone. */
export const unitBetween = (unit: string): string => (unit === 'dBm' ? 'dB' : unit);

/** Three digits, trailing zeros kept. */
export function figure(value: number): string {
  if (!Number.isFinite(value)) {
    return '-';
  }
  const whole = Math.trunc(Math.abs(value)).toString().length;
  return Math.abs(value) >= 1 ? value.toFixed(Math.max(0, 3 - whole)) : value.toPrecision(3);
}

/** Seconds as people say them: 17.2 s, 4 min 10 s. */
export function duration(seconds: number): string {
  if (seconds < 100) {
    return withUnit(seconds.toFixed(1), 's');
  }
  const minutes = Math.floor(seconds / 60);
  const rest = Math.round(seconds - minutes * 60);
  return rest === 0
    ? withUnit(String(minutes), 'min')
    : `${withUnit(String(minutes), 'min')} ${withUnit(String(rest), 's')}`;
}

/** What a countdown shows: 0:48. */
export function countdown(seconds: number): string {
  const whole = Math.max(0, Math.ceil(seconds));
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, '0')}`;
}

const DAY = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' });
const DAY_YEAR = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', year: 'numeric' });
const LONG_DAY = new Intl.DateTimeFormat('en-GB', { weekday: 'long', day: 'numeric', month: 'long' });

/** A calendar day `2026-11-27` read as that day wherever the reader is. */
function local(day: string): Date {
  const [y, m, d] = day.split('-').map(Number);
  return new Date(y ?? 0, (m ?? 1) - 1, d ?? 1);
}

export const shortDay = (day: string): string => DAY.format(local(day));
export const dayWithYear = (day: string): string => DAY_YEAR.format(local(day));
export const longDay = (day: string): string => LONG_DAY.format(local(day));

/** The time of day at the site, 10:32:07 or 10:32. */
export function clock(instant: string, zone: string, seconds = true): string {
  return new Intl.DateTimeFormat('en-GB', {
    timeZone: zone,
    hour: '2-digit',
    minute: '2-digit',
    ...(seconds ? { second: '2-digit' } : {}),
  }).format(new Date(instant));
}

/** The day at the site, 27 Nov 2026. */
export const dayAt = (instant: string, zone: string): string =>
  new Intl.DateTimeFormat('en-GB', { timeZone: zone, day: 'numeric', month: 'short', year: 'numeric' }).format(
    new Date(instant),
  );

/** Day and time at the site, 27 Nov 2026, 09:41. */
export const dayAndTime = (instant: string, zone: string): string =>
  `${dayAt(instant, zone)}, ${clock(instant, zone, false)}`;

export const yearOf = (instant: string): number => new Date(instant).getFullYear();

export const plural = (n: number, one: string, many = `${one}s`): string => `${n} ${n === 1 ? one : many}`;

/** "Three jobs", for sentences that begin with a number. */
export function numbered(n: number, one: string, many = `${one}s`): string {
  const words = [
    'No',
    'One',
    'Two',
    'Three',
    'Four',
    'Five',
    'Six',
    'Seven',
    'Eight',
    'Nine',
    'Ten',
    'Eleven',
    'Twelve',
  ];
  return `${words[n] ?? n} ${n === 1 ? one : many}`;
}

/**
 * A number as a person types it: comma or point, blanks, and in front of it what a display shows at the end of
 * its range.
 */
export function typedNumber(text: string): { qualifier: '=' | '>' | '<'; value: number } | null {
  const found = /^\s*([<>])?\s*([+\-\u2212]?\d[\d\u2006\u2009\u202f\u00a0 ]*(?:[.,]\d+)?(?:e[+-]?\d+)?)\s*$/i.exec(
    text,
  );
  // "1,266" may be meant as 1.266 or as 1266: that is asked, not guessed.
  if (found === null || /^\s*[<>]?\s*\d{1,3},\d{3}\s*$/.test(text)) {
    return null;
  }
  const value = Number(
    (found[2] ?? '')
      .replace(/[\u2006\u2009\u202f\u00a0 ]/g, '')
      .replace(',', '.')
      .replace('\u2212', '-'),
  );
  return Number.isFinite(value) ? { qualifier: (found[1] as '<' | '>' | undefined) ?? '=', value } : null;
}

export const VERDICT_WORDS = {
  pass: 'Pass',
  marginalInside: 'Marginal',
  marginalOutside: 'Marginal, outside',
  notJudged: 'Not judged',
  fail: 'Fail',
  skipped: 'Skipped',
  running: 'Running',
  todo: 'Still to do',
} as const;

/** As a sentence begins. */
export const capital = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

/**
 * A title within a sentence: its first letter small, unless its first word is an abbreviation; "12 dB SINAD"
 * stays as it is.
 */
export const within = (title: string): string =>
  /^\p{Lu}(?!\p{Lu})/u.test(title) ? title.charAt(0).toLowerCase() + title.slice(1) : title;

/** A quantity that is measured now, as it stands in a sentence. */
export const toldFigure = (q: { value: number; unit: string }): string =>
  withUnit(
    (q.unit.startsWith('dB') ? q.value.toFixed(1) : q.unit === '1' ? String(q.value) : figure(q.value)).replace(
      '-',
      '\u2212',
    ),
    symbolOf(q.unit),
  );
