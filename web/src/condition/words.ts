import { numbered, plural } from '../state/words';

/** A change in margin as it is said: +22 %, −1.5 %. */
export function signedPercent(share: number): string {
  const percent = share * 100;
  const figure = Math.abs(percent) < 2 && Math.abs(percent) > 0.049 ? percent.toFixed(1) : percent.toFixed(0);
  const bare = figure.replace('-', '');
  return `${Number(figure) === 0 ? '' : percent > 0 ? '+' : '\u2212'}${Number(bare) === 0 ? '0' : bare}\u2006%`;
}

/** "spring to autumn 2027" of "at its limit between spring 2027 and autumn 2027"; what is no such words as it is. */
export function briefly(meets: string): string {
  const words = meets.replace(/^at its limit (in )?/, '');
  const range = /^between (.+) and (.+)$/.exec(words);
  if (range === null) {
    return words.startsWith('not before') ? words.replace('not before', 'after') : words;
  }
  const [, from = '', to = ''] = range;
  const year = / (\d{4})$/.exec(to)?.[1];
  return `${year !== undefined && from.endsWith(` ${year}`) ? from.slice(0, -5) : from} to ${to}`;
}

interface Counts {
  act: number;
  watch: number;
  sound: number;
  unknown: number;
  meetNext: number;
}

/** What the map says, in a sentence. */
export function headline({ act, watch, sound, unknown, meetNext }: Counts): string {
  const failed = act - meetNext;
  if (act + watch + sound + unknown === 0) {
    return 'No device is like this';
  }
  if (act === 0) {
    return watch > 0
      ? `Nothing to act on, ${watch} to watch`
      : sound > 0
        ? unknown > 0
          ? `All ${sound} that are known are sound`
          : `All ${sound} are sound`
        : 'Nothing is known yet';
  }
  const meet = `${meetNext === 1 ? 'meets' : 'meet'} a limit before ${meetNext === 1 ? 'its' : 'their'} next test`;
  if (failed === 0) {
    return `${numbered(meetNext, 'device')} ${meet}`;
  }
  return meetNext === 0
    ? `${numbered(failed, 'device')} to act on: failed, or not to be used`
    : `${failed} to act on now, ${meetNext} ${meet}`;
}

/** Ages that can be chosen, with their bounds in years. */
export const AGES: readonly { word: string; minAge: string; maxAge: string }[] = [
  { word: 'under 2 years', minAge: '', maxAge: '2' },
  { word: '2 to 5 years', minAge: '2', maxAge: '5' },
  { word: '5 to 10 years', minAge: '5', maxAge: '10' },
  { word: 'over 10 years', minAge: '10', maxAge: '' },
];

export const chosenWords = (n: number, region: boolean): string =>
  region
    ? n === 0
      ? 'Nothing in the chosen region'
      : `${numbered(n, 'device').replace(/ device(s?)$/, '')} in the chosen region`
    : `${numbered(n, 'device')} chosen`;

export const needWords = (n: number): string =>
  n === 0 ? 'Nothing needs attention' : `${plural(n, 'device')} ${n === 1 ? 'needs' : 'need'} attention`;

export const trendAddress = (asset: string, series?: string, lane?: string): string =>
  `/condition/trend/${encodeURIComponent(asset)}${
    series === undefined || lane === undefined
      ? ''
      : `?${new URLSearchParams({ point: `${series} ${lane}` }).toString()}`
  }`;

/** An address with one of its parts replaced, and some taken out. */
export function withParam(
  was: URLSearchParams,
  name: string,
  values: readonly string[],
  without: readonly string[] = [],
): URLSearchParams {
  const next = new URLSearchParams(was);
  for (const gone of [name, ...without]) {
    next.delete(gone);
  }
  values.forEach((v) => next.append(name, v));
  return next;
}

/** A title within a sentence: its first letter small, unless it begins with letters that stand for words. */
export const inSentence = (title: string): string =>
  /^[A-Z][^A-Z]/.test(title) ? title.charAt(0).toLowerCase() + title.slice(1) : title;

export const sentence = (words: string): string => words.charAt(0).toUpperCase() + words.slice(1);

/** An interval as it is said: 8 months, 2 years. */
export function months(count: number): string {
  const whole = Math.round(count);
  return whole >= 48 || (whole >= 24 && whole % 12 === 0)
    ? plural(Math.floor(whole / 12), 'year')
    : plural(whole, 'month');
}
