import type { StepView } from '../../../api/types';
import type { ChartProps, Face, Family } from '../../../bench/family';
import { SignalStage } from '../../../bench/kit/SignalStage';
import { toldNow } from '../../../bench/plain';
import type { Ready } from '../../../state/run';
import { ChartField } from '../../../ui/ChartField';

const WORDS = {
  live: (ready: Ready): string => (toldNow(ready) === '' ? 'It shines.' : `It shines: ${toldNow(ready)}.`),
  safe: (): string => 'Dark. Nothing is lit.',
};

function LampStage({ step }: { step: StepView }) {
  return (
    <div className="flex min-h-0 flex-1 flex-col" data-lamp-stage>
      <SignalStage step={step} words={WORDS} about="Stand where the driver sees it." />
    </div>
  );
}

function LampRow({ chart, past }: ChartProps) {
  return (
    <div className="h-full" data-lamp-row>
      <ChartField chart={chart} past={past} />
    </div>
  );
}

const lamp: Face = {
  Stage: LampStage,
  armed: (_, lane) => `Ready to light ${lane === '' ? 'it' : lane}. Do not look into it.`,
  live: (step, lane) => `${step.title}${lane === '' ? '' : `, ${lane}`}: it shines. Do not look into it.`,
  verb: 'light',
  head: (ready) => ({ figure: toldNow(ready) || 'lit', aside: '' }),
  about: (step) => (step.params['voltage'] === undefined ? null : `${step.params['voltage'].value ?? ''} V`),
  patience: () => 'Keep the hood on the lamp',
};

/** Signal lamps: a family for tests alone, which touches nothing but this folder. */
export const family: Family = {
  id: 'lamps',
  faces: { 'lamps.': lamp },
  plate: { lamps: 'lamps', sightDistance: 'sight distance' },
  params: { voltage: 'lamp voltage', aim: 'aimed at', within: 'within' },
  sketches: {},
  charts: { lampRow: LampRow },
};
