import type { CurveForm, CurveModelView, CurvePartForm } from '../api/types';

type Dial = CurveModelView['dials'][number];

/** Steps of a dial from its least to its greatest value: even on a scale of ratios. */
export const STEPS = 200;

/** Where a dial stands, in steps. */
export const stepOf = (dial: Dial, value: number): number =>
  dial.highest > dial.lowest
    ? Math.round((STEPS * Math.log(value / dial.lowest)) / Math.log(dial.highest / dial.lowest))
    : 0;

/** The value at a step, to three figures; its ends are exact. */
export function valueAt(dial: Dial, step: number): number {
  if (step <= 0) {
    return dial.lowest;
  }
  return step >= STEPS
    ? dial.highest
    : Number((dial.lowest * (dial.highest / dial.lowest) ** (step / STEPS)).toPrecision(3));
}

/** What is looked for stands in its name, its maker, its technology, or a position that goes by it. */
export const fits = (m: CurveModelView, words: string): boolean =>
  words
    .toLowerCase()
    .split(/\s+/)
    .filter((w) => w !== '')
    .every((w) =>
      [m.id, m.maker ?? 'generic', m.model, m.technology, m.source, ...m.usedBy].join(' ').toLowerCase().includes(w),
    );

export const NEW_PART: CurvePartForm = {
  label: 'long time',
  settingKey: 'longTimeSetting',
  pickUpLow: 1.05,
  pickUpHigh: 1.3,
  points: '',
};

export const NEW_CURVE: CurveForm = {
  maker: '',
  model: '',
  technology: 'thermal-magnetic',
  source: '',
  condition: 'one pole alone, cold, clearing time',
  ratings: [],
  parts: [NEW_PART],
  seen: 0,
};

/** Values of the nameplate at which something that is being made is drawn: each at 100, times at 1. */
export function trialPlate(form: CurveForm): Record<string, number> {
  const plate: Record<string, number> = { ratedCurrent: form.ratings[0] ?? 100 };
  form.parts.forEach((p) => {
    plate[p.settingKey] ??= form.ratings[0] ?? 100;
    if (p.timeSettingKey !== undefined && p.timeSettingKey !== '') {
      plate[p.timeSettingKey] ??= 1;
    }
  });
  return plate;
}

/** A number as it is typed, with a comma or a point; NaN where it is none. */
export const typed = (text: string): number => (text.trim() === '' ? NaN : Number(text.trim().replace(',', '.')));

/** Rated currents as they are typed, between commas or blanks. */
export const ratingsOf = (text: string): number[] =>
  text
    .split(/[\s,;]+/)
    .filter((w) => w !== '')
    .map(Number);

/** By a part's points, or by a formula: what belongs to the other way goes. */
export const byFormula = (part: CurvePartForm): CurvePartForm => ({
  label: part.label,
  settingKey: part.settingKey,
  pickUpLow: part.pickUpLow,
  ...(part.pickUpHigh === undefined ? {} : { pickUpHigh: part.pickUpHigh }),
  formula: 'iec-vi',
  timeSettingKey: 'longTimeDelay',
  minusPercent: 10,
  plusPercent: 10,
  from: 1.1,
  upTo: 20,
});

export const byPoints = (part: CurvePartForm): CurvePartForm => ({
  label: part.label,
  settingKey: part.settingKey,
  pickUpLow: part.pickUpLow,
  ...(part.pickUpHigh === undefined ? {} : { pickUpHigh: part.pickUpHigh }),
  points: '',
});
