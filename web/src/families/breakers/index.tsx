import type { StepView } from '../../api/types';
import type { Face, Family } from '../../bench/family';
import { duration, figure, withUnit } from '../../state/words';
import { SignalStage } from '../../bench/kit/SignalStage';
import { OperationStage } from './OperationStage';
import { RampStage, SequenceStage } from './SequenceStage';
import { RelayStage } from './RelayStage';
import { ContactStage, InjectionStage, ResidualStage } from './stages';
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
  if (multiple !== undefined) {
    return `at ${multiple} × ${current / multiple}\u2006A`;
  }
  // What is waited for until it trips alternates; what is measured in a moment is a direct current.
  return step.maxima['time'] === undefined ? `at ${current}\u2006A DC` : `at ${amperes(current)}`;
}

const SOURCE = { live: () => 'Current is on, or comes again by itself.', safe: () => 'Safe. Nothing is switched on.' };

const PULSES: Face = {
  ...WORDS,
  live: (_, lane) => `Pulses climb into ${lane}. Keep hands off the leads until it trips.`,
  head: ({ progress }) => {
    const current = progress?.values['current']?.value;
    const rest = progress?.values['rest']?.value;
    return {
      figure: current === undefined ? withUnit('…', 'A') : amperes(current),
      aside: rest === undefined ? 'pulse by pulse' : `next pulse in ${duration(rest)}`,
    };
  },
  patience: () => 'Leave it to trip by itself',
  about: (step) => {
    const from = step.params['from']?.value;
    const by = step.params['step']?.value;
    return from === undefined || by === undefined ? null : `from ${amperes(from)} by ${amperes(by)}`;
  },
  Stage: ({ step }) => <SignalStage step={step} words={SOURCE} about={null} />,
};

const RAMP: Face = {
  ...WORDS,
  live: (_, lane) => `The current into ${lane} grows until it opens. Keep hands off the leads.`,
  about: (step) => {
    const from = step.params['from']?.value;
    const to = step.params['to']?.value;
    return from === undefined || to === undefined ? null : `${amperes(from)} to ${amperes(to)}`;
  },
  Stage: ({ step }) => <RampStage step={step} words={SOURCE} />,
};

const HELD = {
  live: () => 'On while you hold. Slide onto Raise or Lower, or press an arrow key while Enter is held.',
  safe: SOURCE.safe,
};

/** Held to run: what flows follows the hand. */
const BY_HAND: Face = {
  ...WORDS,
  armed: (_, lane) => `Ready for ${lane}. The current flows as long as you hold; slide to raise and lower it.`,
  live: (_, lane) => `Current flows into ${lane} as long as you hold. Keep hands off the leads.`,
  verb: 'inject by hand into',
  head: (ready, step) => {
    const set = ready.progress?.values['set']?.value;
    return { ...WORDS.head(ready, step), ...(set === undefined ? {} : { aside: `set to ${amperes(set)}` }) };
  },
  patience: () => 'Let go to switch off',
  about: (step) => {
    const from = step.params['from']?.value;
    const to = step.maxima['current']?.value;
    return from === undefined || to === undefined ? null : `from ${amperes(from)}, at most ${amperes(to)}`;
  },
  Stage: ({ step }) => <SignalStage step={step} words={HELD} about={null} />,
};

const SEQUENCE: Face = {
  ...WORDS,
  live: (_, lane) => `Current comes and goes in ${lane}. It may come again at any moment.`,
  head: (ready, step) => {
    const operations = ready.progress?.values['operations']?.value;
    return {
      ...WORDS.head(ready, step),
      ...(operations === undefined ? {} : { aside: `${operations} so far` }),
    };
  },
  patience: () => 'Leave it until it stays open',
  about: (step) => {
    const multiples = Object.keys(step.params).includes('multiple');
    return multiples ? 'to lock-out, level by level' : null;
  },
  Stage: ({ step }) => <SequenceStage step={step} words={SOURCE} />,
};

const STRIKES = {
  live: () => 'It moves. Keep clear of its mechanism.',
  safe: () => 'Safe. Nothing is switched on; its springs may be charged.',
};

/** Residual currents: small, and what they trip may feed somebody. */
const RESIDUAL: Face = {
  ...WORDS,
  armed: (_, lane) => `Ready on the ${lane} half. Is it switched on, and may its supply go?`,
  live: () => 'A residual current flows. It trips at any moment.',
  head: ({ progress }, step) => {
    const current = progress?.values['current']?.value;
    const elapsed = progress?.values['elapsed']?.value;
    const limit = step.maxima['time']?.value;
    return {
      figure: withUnit(current === undefined ? '…' : figure(current * 1000), 'mA'),
      ...(elapsed === undefined ? {} : { elapsed: withUnit(elapsed.toFixed(2), 's') }),
      aside: limit === undefined ? '' : 'the voltage of the protective conductor is checked first',
    };
  },
  patience: () => 'Leave it to trip by itself',
  about: (step) => {
    const current = step.params['current']?.value;
    const from = step.params['from']?.value;
    return current === undefined
      ? null
      : `${from === undefined ? '' : `${figure(from * 1000)} to `}${withUnit(figure(current * 1000), 'mA')}`;
  },
  Stage: ResidualStage,
};

/** Secondary injection: into a relay, off its transformers. */
const RELAY: Face = {
  ...WORDS,
  armed: (_, lane) =>
    `Ready to inject${lane === '' ? '' : ` into ${lane}`}. Current transformers shorted, trip circuit open?`,
  live: () => 'Currents flow into the relay. Keep hands off the test block.',
  verb: 'inject',
  head: ({ progress }, step) => {
    const current = progress?.values['current']?.value;
    const elapsed = progress?.values['elapsed']?.value;
    const angle = progress?.values['angle']?.value;
    const limit = step.maxima['time']?.value;
    return {
      figure: withUnit(current === undefined ? '…' : figure(current), 'A'),
      ...(elapsed === undefined ? {} : { elapsed: withUnit(elapsed.toFixed(2), 's') }),
      aside:
        angle !== undefined
          ? `at ${figure(angle).replace('-', '\u2212')}°`
          : limit === undefined
            ? ''
            : `each at most ${duration(limit)}`,
    };
  },
  patience: () => '',
  about: (step) => {
    const multiples = Object.values(step.params['multiple']?.lanes ?? {});
    const current = step.params['current']?.value ?? step.params['to']?.value;
    return multiples.length > 0
      ? `${Math.min(...multiples)} to ${Math.max(...multiples)} ×`
      : current === undefined
        ? null
        : `up to ${amperes(current)}`;
  },
  Stage: ({ step }) => <RelayStage step={step} />,
};

const QUIET = { live: () => 'The relay is being asked.', safe: () => 'Nothing is switched on.' };

/** The communication port of a relay: nothing flows. */
function port(verb: string): Face {
  return {
    ...WORDS,
    armed: () => 'Ready to ask the relay over its port.',
    live: () => 'The relay is being asked. Leave its lead in.',
    verb,
    head: () => ({ figure: '…', aside: '' }),
    patience: () => '',
    about: () => null,
    Stage: ({ step }) => <SignalStage step={step} words={QUIET} about={null} />,
  };
}

/** Operations by the breaker's own coils. */
function operation(does: string): Face {
  return {
    ...WORDS,
    armed: () => `Ready: it ${does} with all its force. Everyone clear of the mechanism?`,
    live: () => 'It moves. Keep clear of its mechanism.',
    verb: `${does.split(' ')[0]?.replace(/s$/, '') ?? ''} it`,
    head: ({ progress }) => {
      const volts = progress?.values['voltage']?.value;
      return { figure: withUnit(volts === undefined ? '…' : figure(volts), 'V'), aside: 'to its coil' };
    },
    patience: () => '',
    about: (step) => {
      const volts = step.params['voltage']?.value;
      return volts === undefined ? null : `${withUnit(figure(volts), 'V')} to its coil`;
    },
    Stage: ({ step }) => <OperationStage step={step} words={STRIKES} />,
  };
}

export const family: Family = {
  id: 'breakers',
  faces: {
    'breaker.pulses': PULSES,
    'breaker.pickUp': RAMP,
    'breaker.sequence': SEQUENCE,
    'breaker.byHand': BY_HAND,
    'breaker.open': operation('opens'),
    'breaker.close': operation('closes'),
    'breaker.closeOpen': operation('closes and opens again'),
    'relay.settings': port('read the settings'),
    'relay.write': port('write the settings'),
    'relay.': RELAY,
    'breaker.residual': RESIDUAL,
    'breaker.residualSteps': RESIDUAL,
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
    pickUp: 'minimum trip',
    coil: 'series coil',
    operations: 'operations to lock-out',
    controller: 'control',
    pickUpSetting: 'overcurrent setting',
    timeMultiplier: 'time multiplier',
    characteristicAngle: 'characteristic angle',
    differentialSetting: 'differential setting',
    differentialSlope: 'differential slope',
    functions: 'functions',
    residualCurrent: 'residual current',
    sensitivity: 'sensitive to',
    delay: 'delay',
    openingTime: 'opening time',
    closingTime: 'closing time',
    controlVoltage: 'control voltage',
  },
  params: {
    current: 'Current',
    checkCurrent: 'Check current',
    multiple: 'Multiple of the setting',
    greatestImpedance: 'Greatest impedance',
    testVoltage: 'Test voltage',
    time: 'Time',
    from: 'From',
    to: 'To',
    step: 'Step',
    rated: 'Rated current',
    cycles: 'Cycles of a pulse',
    pointOnWave: 'Point on wave, degrees',
    rest: 'Mean current over pulses and pauses, of the rated one',
    frequency: 'Frequency',
    seconds: 'Length of the ramp',
    detector: 'Detector: 0 fall, 1 levelling-off',
    drive: 'Source set to, times what is wanted',
    fast: 'Fast operations',
    quiet: 'Open for good after',
    angle: 'Point on wave, degrees',
    greatestTouch: 'Greatest touch voltage',
    steps: 'Steps',
    dwell: 'Length of a step',
    bias: 'Restraint',
    greatest: 'Greatest difference',
    resolution: 'Resolution',
    share: 'Share of the control voltage',
    voltage: 'Voltage at the coil',
    zone: 'Speed taken over',
  },
  sketches: {},
  charts: { tripTimes: TripTimes },
  cooling: 'A warm bimetal trips early.',
};
