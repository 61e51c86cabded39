import type { StepView } from '../../api/types';
import type { Face, Family } from '../../bench/family';
import { duration, figure, withUnit } from '../../state/words';
import { CreepStage, ErrorStage, LoadStage, RegisterStage } from './ErrorStage';
import { PhasorStage } from './PhasorStage';
import { TestBlock } from './TestBlock';
import { AloneStage, BurdenStage, DropStage, ExcitationStage, RatioStage, ShortStage } from './TransformerStages';

/** What only reads: nothing is switched on by it. */
function reads(verb: string, live: string): Omit<Face, 'Stage'> {
  return {
    armed: () => 'Ready. Nothing is switched on by it.',
    live: () => live,
    verb,
    head: () => ({ figure: '…', aside: 'nothing is switched on' }),
    patience: () => '',
    about: () => null,
  };
}

const about = (step: StepView): string | null => {
  const current = step.params['current'];
  const volts = step.params['voltage']?.value;
  const lanes = Object.values(current?.lanes ?? {});
  return [
    volts === undefined || volts === null ? '' : withUnit(figure(volts), 'V'),
    lanes.length > 0
      ? `${figure(Math.min(...lanes))} to ${withUnit(figure(Math.max(...lanes)), 'A')}`
      : current?.value === undefined || current.value === null
        ? ''
        : withUnit(figure(current.value), 'A'),
  ]
    .filter((words) => words !== '')
    .join(', ');
};

/** A source, a burden set, an analyser: voltage or current flows. */
function gives(verb: string, live: string, armed: (lane: string) => string): Omit<Face, 'Stage'> {
  return {
    armed: (_, lane) => armed(lane),
    live: () => live,
    verb,
    head: ({ progress }, step) => {
      const current = progress?.values['current']?.value;
      const volts = progress?.values['voltage']?.value;
      const elapsed = progress?.values['elapsed']?.value;
      const limit = step.maxima['time']?.value;
      const given = [
        volts === undefined || volts === 0 ? '' : withUnit(figure(volts), 'V'),
        current === undefined || current === 0 ? '' : withUnit(figure(current), 'A'),
      ].filter((words) => words !== '');
      return {
        figure: given.length === 0 ? '…' : given.join(' · '),
        ...(elapsed === undefined ? {} : { elapsed: withUnit(elapsed.toFixed(1), 's') }),
        aside: limit === undefined || limit === null ? '' : `off by itself after ${duration(limit)} at most`,
      };
    },
    patience: () => 'Leave it until it is done',
    about,
  };
}

const ON_SOURCE = gives(
  'switch on for',
  'The meter is on the source. Keep hands off its terminals.',
  (lane) => `Ready${lane === '' ? '' : ` for ${lane}`}. Meter off the supply, links open, everyone clear?`,
);
const ALONE = gives(
  'begin',
  'Voltage or current is on the transformer. Keep hands off its terminals.',
  () => 'Ready. Primary dead and open, secondary off its load, everyone clear?',
);

export const family: Family = {
  id: 'meters',
  faces: {
    'meter.wiring': { ...reads('read', 'Voltages and currents are being read.'), Stage: PhasorStage },
    'meter.error': { ...reads('count', 'Pulses are counted.'), Stage: ErrorStage },
    'meter.errorReactive': { ...reads('count', 'Pulses are counted.'), Stage: ErrorStage },
    'meter.errorApparent': { ...reads('count', 'Pulses are counted.'), Stage: ErrorStage },
    'meter.register': { ...reads('begin', 'The reference adds energy up.'), Stage: RegisterStage },
    'meter.demand': {
      ...reads('wait for its interval', 'An interval of the meter is followed.'),
      Stage: RegisterStage,
    },
    'meter.read': { ...reads('read the meter', 'The meter is being read.'), Stage: ErrorStage },
    'meter.load': { ...ON_SOURCE, Stage: LoadStage },
    'meter.creep': { ...ON_SOURCE, Stage: CreepStage },
    'meter.start': { ...ON_SOURCE, Stage: CreepStage },
    'ct.ratio': { ...reads('read both clamps', 'Both clamps are being read.'), Stage: RatioStage },
    'ct.burden': { ...reads('read', 'Voltage and current are being read.'), Stage: BurdenStage },
    'ct.shorted': { ...reads('watch the current', 'Short this secondary now.'), Stage: ShortStage },
    'ct.restored': { ...reads('watch the current', 'Take the short off now.'), Stage: ShortStage },
    'ct.burdenLoad': {
      ...gives(
        'inject',
        'Current flows into the load. Protection on that circuit may trip.',
        (lane) => `Ready for ${lane}. Secondary shorted, its link open, protection blocked?`,
      ),
      Stage: BurdenStage,
    },
    'vt.leadDrop': { ...reads('read both ends', 'Both ends of the lead are being read.'), Stage: DropStage },
    'vt.burden': { ...reads('read', 'Voltage and current are being read.'), Stage: BurdenStage },
    'vt.ratio': { ...ALONE, Stage: AloneStage },
    'ct.excitation': { ...ALONE, Stage: ExcitationStage },
    'ct.': { ...ALONE, Stage: AloneStage },
  },
  first: ['site'],
  plate: {
    service: 'service',
    connection: 'connection',
    accuracyClass: 'class',
    ratedVoltage: 'rated voltage',
    ratedCurrent: 'rated current',
    maximumCurrent: 'maximum current',
    meterConstant: 'meter constant',
    phaseVoltage: 'phase to neutral at the meter',
    ctPrimary: 'transformers, primary',
    ctSecondary: 'transformers, secondary',
    ctBurden: 'transformers, rated burden',
    vtPrimary: 'voltage transformers, primary',
    vtSecondary: 'voltage transformers, secondary',
    vtBurden: 'voltage transformers, rated burden',
    reactiveConstant: 'constant for reactive energy',
    apparentConstant: 'constant for apparent energy',
    demandInterval: 'interval of the demand',
    quantities: 'quantities',
    tariffClock: 'tariff clock',
    form: 'form',
    testBlock: 'test block',
    seals: 'seals',
    site: 'instructions and warnings',
    primaryCurrent: 'primary current',
    secondaryCurrent: 'secondary current',
    burden: 'rated burden',
    securityFactor: 'security factor',
    highestVoltage: 'highest voltage',
    primaryVoltage: 'primary voltage',
    secondaryVoltage: 'secondary voltage',
    voltageFactor: 'voltage factor',
  },
  params: {
    leads: 'Currents may lead by, degrees',
    lags: 'Currents may lag by, degrees',
    apart: 'Phases apart by at most, degrees',
    delivered: 'Energy: 0 drawn, 1 delivered',
    constant: 'Meter constant',
    pulses: 'Pulses a run',
    seconds: 'Seconds, at most',
    runs: 'Runs',
    leastCurrent: 'Least current',
    ratedRatio: 'Ratio of record',
    nominal: 'Nominal secondary value',
    energy: 'Energy of the reference',
    interval: 'Interval of the demand',
    independent: 'Together: 0 as their sum, 1 as root of squares',
    meter: 'Meter may be off by',
    currentMinutes: 'Current transformers: angle, minutes',
    voltageMinutes: 'Voltage transformers: angle, minutes',
    clamps: 'Error of a clamp',
    multiple: 'Share of the rated current',
    startShare: 'Share of the rated current',
    creepFactor: 'Factor of the class',
    degrees: 'Current lags by, degrees',
    phase: 'Phase loaded alone, 0 for all',
    fifth: 'Fifth harmonic, share',
    warm: 'Warm-up',
    settle: 'Settling',
    contact: 'Goes on by contact: 0 no, 1 yes',
    wait: 'Waits for the contact at most',
    ambient: 'Temperature of the winding',
    voltage: 'Voltage',
    current: 'Current',
    frequency: 'Frequency',
    time: 'Time',
  },
  sketches: { testBlock: TestBlock },
};
