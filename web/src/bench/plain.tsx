import type { StepView } from '../api/types';
import type { Ready } from '../state/run';
import { toldFigure } from '../state/words';
import type { Face } from './family';
import { SignalStage } from './kit/SignalStage';

/** What is measured now, quantities before bare numbers: "level −12.0 dBm, count 3". */
export function toldNow({ progress }: Ready): string {
  return Object.entries(progress?.values ?? {})
    .sort(([, a], [, b]) => Number(a.unit === '1') - Number(b.unit === '1'))
    .map(([name, q]) => `${name} ${toldFigure(q)}`)
    .join(', ');
}

const WORDS = {
  live: (ready: Ready): string => (toldNow(ready) === '' ? 'It is being measured.' : `${toldNow(ready)}.`),
  safe: (): string => 'Safe. Nothing is switched on.',
};

function PlainStage({ step }: { step: StepView }) {
  return <SignalStage step={step} words={WORDS} about={null} />;
}

/** The face of a method that no family has one for. */
export const plain: Face = {
  Stage: PlainStage,
  armed: (_, lane) => `Ready to switch on${lane === '' ? '' : ` ${lane}`}. Everyone clear?`,
  live: (step, lane) => `${step.title}${lane === '' ? '' : `, ${lane}`}: it is on. Leave the leads alone.`,
  verb: 'switch on',
  head: ({ progress }) => {
    const shown = Object.values(progress?.values ?? {}).find((q) => q.unit !== '1');
    return { figure: shown === undefined ? 'on' : toldFigure(shown), aside: '' };
  },
  about: () => null,
  patience: () => '',
};
