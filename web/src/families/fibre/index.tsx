import type { StepView } from '../../api/types';
import type { Face, Family } from '../../bench/family';
import { SignalStage } from '../../bench/kit/SignalStage';
import type { StageWords } from '../../bench/kit/Sentence';
import { withUnit } from '../../state/words';
import { TraceStage } from './TraceStage';

const seconds = (value: number): string => withUnit(value.toFixed(1), 's');

const WORDS: StageWords = {
  live: ({ progress }) => {
    const elapsed = progress?.values['elapsed']?.value;
    return elapsed === undefined ? 'Light is on.' : `Light is on, ${seconds(elapsed)} of averaging.`;
  },
  safe: () => 'Safe. No light is sent.',
};

const CAMERA: StageWords = { live: () => 'The camera looks.', safe: () => 'Safe. The camera sends no light out.' };

const wavelength = (step: StepView): string | null => {
  const value = step.params['wavelength']?.value;
  return value === undefined ? null : withUnit(String(value), 'nm');
};

const ends = (step: StepView): string => ((step.params['farEnd']?.value ?? 0) > 0 ? 'from the far end' : '');

const about = (step: StepView): string | null =>
  [wavelength(step), ends(step)].filter((w) => w !== null && w !== '').join(', ') || null;

const LIGHT: Omit<Face, 'Stage'> = {
  armed: (_, lane) => `Ready to send light into ${lane}. Nobody looks into it, here or there?`,
  live: (_, lane) => `Light goes into ${lane}. Leave its connectors closed.`,
  verb: 'send light',
  head: ({ progress }, step) => {
    const elapsed = progress?.values['elapsed']?.value;
    return {
      figure: wavelength(step) ?? 'light',
      ...(elapsed === undefined ? {} : { elapsed: seconds(elapsed) }),
      aside: ends(step),
    };
  },
  about,
  patience: () => 'It ends by itself',
};

export const family: Family = {
  id: 'fibre',
  faces: {
    'fibre.trace': { ...LIGHT, Stage: ({ step }) => <TraceStage step={step} words={WORDS} about={about(step)} /> },
    'fibre.launch': { ...LIGHT, Stage: ({ step }) => <TraceStage step={step} words={WORDS} about={about(step)} /> },
    'fibre.light': {
      ...LIGHT,
      armed: (_, lane) => `Ready to look for light on ${lane}; none is sent.`,
      live: (_, lane) => `Looking for light on ${lane}.`,
      verb: 'look',
      Stage: ({ step }) => <SignalStage step={step} words={CAMERA} about={null} />,
    },
    'fibre.endface': {
      ...LIGHT,
      armed: (_, lane) => `Ready to look at the end face of ${lane}.`,
      live: (_, lane) => `The end face of ${lane} is looked at. Keep still.`,
      verb: 'look',
      about: (step) => ends(step) || null,
      head: (_, step) => ({ figure: 'camera', aside: ends(step) }),
      Stage: ({ step }) => <SignalStage step={step} words={CAMERA} about={null} />,
    },
  },
  plate: {
    fibres: 'fibres',
    length: 'route length',
    wavelength: 'wavelength in use',
    lossBudget: 'loss budget',
    kind: 'fibre',
    connectors: 'connectors',
    cable: 'cable',
    index1310: 'group index, 1310 nm',
    index1550: 'group index, 1550 nm',
  },
  params: {
    wavelength: 'Wavelength',
    averaging: 'Averaging',
    pulse: 'Pulse',
    range: 'Range',
    farEnd: 'From the far end',
    threshold: 'Bend: more at the longer wavelength by',
  },
  sketches: {},
};
