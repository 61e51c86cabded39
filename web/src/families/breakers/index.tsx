import type { StepView } from '../../api/types';
import type { Face, Family } from '../../bench/family';
import { duration, figure, withUnit } from '../../state/words';
import { ContactStage, InjectionStage } from './stages';
import { TripTimes } from './TripTimes';

const amperes = (value: number): string => withUnit(value >= 100 ? value.toFixed(1) : figure(value), 'A');

const WORDS: Omit<Face, 'Stage' | 'about'> = {
  armed: (_, lane) => `Ready to switch on ${lane}. Everyone clear?`,
  live: (_, lane) => `Current flows into ${lane}. Keep hands off the leads.`,
  verb: 'switch on',
  head: ({ progress }, step) => {
    const current = progress?.values['current']?.value;
    const elapsed = progress?.values['elapsed']?.value;
    const limit = step.maxima['time']?.value;
    const aside =
      limit === undefined
        ? 'off after the reading'
        : elapsed === undefined
          ? 'checking the leads first'
          : `stops by itself at ${duration(limit)}`;
    return {
      figure: current === undefined ? withUnit('…', 'A') : amperes(current),
      ...(limit === undefined ? {} : { elapsed: elapsed === undefined ? '' : withUnit(elapsed.toFixed(1), 's') }),
      aside,
    };
  },
  patience: (step) => (step.window === undefined ? '' : 'Leave it to trip by itself'),
};

function about(step: StepView): string {
  const current = step.params['current']?.value;
  const multiple = step.params['multiple']?.value;
  if (current === undefined) {
    return 'current not known';
  }
  return multiple === undefined ? `at ${current}\u2006A DC` : `at ${multiple} × ${current / multiple}\u2006A`;
}

export const family: Family = {
  id: 'breakers',
  faces: {
    'breaker.': { ...WORDS, Stage: InjectionStage, about },
    contactResistance: { ...WORDS, Stage: ContactStage, about },
  },
  plate: {
    poles: 'poles',
    ratedCurrent: 'rated current',
    ratedVoltage: 'rated voltage',
    longTimeSetting: 'long-time setting',
    longTimeDelay: 'long-time delay',
    shortTimeSetting: 'short-time setting',
    shortTimeDelay: 'short-time delay',
    instantaneousSetting: 'instantaneous setting',
  },
  params: {
    current: 'Current',
    checkCurrent: 'Check current',
    multiple: 'Multiple of the setting',
    greatestImpedance: 'Greatest impedance',
    testVoltage: 'Test voltage',
    time: 'Time',
  },
  sketches: {},
  charts: { tripTimes: TripTimes },
  cooling: 'A warm bimetal trips early.',
};
