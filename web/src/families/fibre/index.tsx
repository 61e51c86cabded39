import type { StepView } from '../../api/types';
import type { Face, Family } from '../../bench/family';
import { SignalStage } from '../../bench/kit/SignalStage';
import type { StageWords } from '../../bench/kit/Sentence';
import { withUnit } from '../../state/words';
import { ArrayStage, ThreadStage } from './CableStages';
import { WorstFirstStage } from '../../bench/kit/WorstFirst';
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

const SET: StageWords = { live: () => 'The loss set measures.', safe: () => 'Safe. Its source is of class 1.' };

const CLASS_1: Omit<Face, 'Stage'> = {
  armed: (_, lane) => `Ready to measure ${lane}.`,
  live: (_, lane) => `${lane === '' ? 'Fibre after fibre' : lane} is measured. Leave the connectors as they are.`,
  verb: 'measure',
  head: ({ progress }) => {
    const fibre = progress?.values['fibre']?.value;
    return { figure: fibre === undefined ? 'loss set' : `fibre ${String(fibre)}`, aside: '' };
  },
  about: () => null,
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
    'fibre.arrayface': {
      ...LIGHT,
      armed: (_, lane) => `Ready to look at the end faces ${lane}.`,
      live: () => 'The end faces are looked at. Turn the focus until they are sharp, then keep still.',
      verb: 'look',
      about: (step) => ends(step) || null,
      head: ({ progress }, step) => {
        const edge = progress?.values['edge of the fibre'];
        const most = progress?.values['at most']?.value ?? 3;
        return {
          figure: 'camera',
          ...(edge === undefined
            ? {}
            : { elapsed: `edge ${edge.value.toFixed(1)} of at most ${withUnit(String(most), 'µm')}` }),
          aside: ends(step),
        };
      },
      Stage: ({ step }) => <ArrayStage step={step} words={CAMERA} />,
    },
    'fibre.returnReference': { ...CLASS_1, Stage: ({ step }) => <WorstFirstStage step={step} words={SET} /> },
    'fibre.lossReference': { ...CLASS_1, Stage: ({ step }) => <WorstFirstStage step={step} words={SET} /> },
    'fibre.insertionLoss': { ...CLASS_1, Stage: ({ step }) => <WorstFirstStage step={step} words={SET} /> },
    'fibre.polarity': { ...CLASS_1, Stage: ({ step }) => <ThreadStage step={step} words={SET} /> },
  },
  plate: {
    fibres: 'fibres',
    length: 'length',
    wavelength: 'wavelength in use',
    lossBudget: 'loss budget',
    kind: 'fibre',
    connectors: 'connectors',
    cable: 'cable',
    index1310: 'group index, 1310 nm',
    index1550: 'group index, 1550 nm',
    layout: 'layout',
    live: 'fibres that carry light',
    polarity: 'polarity',
    insertionLoss: 'insertion loss at most',
    returnLoss: 'return loss at least',
    gender: 'pins',
  },
  params: {
    wavelength: 'Wavelength',
    averaging: 'Averaging',
    pulse: 'Pulse',
    range: 'Range',
    farEnd: 'From the far end',
    judge: 'Judged, 1; only recorded, 0',
    copy: 'Distance taken over from the first fibre',
    cords: 'Cords of the reference',
    threshold: 'Bend: more at the longer wavelength by',
  },
  sketches: {},
};
