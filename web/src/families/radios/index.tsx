import type { StepView } from '../../api/types';
import type { Face, Family } from '../../bench/family';
import { SignalStage } from '../../bench/kit/SignalStage';
import { toldNow } from '../../bench/plain';
import type { Ready } from '../../state/run';
import { toldFigure, withUnit } from '../../state/words';
import { RadioSketch } from './RadioSketch';

const WORDS = {
  live: (ready: Ready, step: StepView): string => {
    const told = toldNow(ready);
    if (told !== '') {
      return `${told}.`;
    }
    return step.hazard ? 'The transmitter is keyed into the test set.' : 'The generator feeds the receiver.';
  },
  safe: (step: StepView): string =>
    step.hazard ? 'Safe. The transmitter is not keyed.' : 'Safe. The generator is off.',
};

/** Where a radio is measured: one frequency, or one a band. */
function channel(step: StepView): string {
  const frequency = step.params['frequency'];
  const all =
    frequency?.value !== undefined
      ? [frequency.value]
      : step.lanes.map((l) => frequency?.lanes?.[l.id]).filter((v) => v !== undefined);
  return `${all.join(' and ')}\u2006MHz`;
}

function RadioStage({ step }: { step: StepView }) {
  const frequency = step.params['frequency'];
  const each = step.lanes.map(
    (l) => `${l.label}: ${withUnit(String(frequency?.lanes?.[l.id] ?? frequency?.value ?? '?'), 'MHz')}`,
  );
  return <SignalStage step={step} words={WORDS} about={each.join(', ')} />;
}

const face: Face = {
  Stage: RadioStage,
  armed: (_, lane) => `Ready to key ${lane || 'the radio'}. Antenna off, lead on?`,
  live: (step, lane) =>
    step.hazard
      ? `${step.title}, ${lane}: the transmitter is on. Leave the leads alone.`
      : `${step.title}, ${lane}: listening to the receiver.`,
  verb: 'key',
  head: ({ view, progress }, step) => {
    const shown = Object.values(progress?.values ?? {}).find((q) => q.unit !== '1');
    const frequency = step.params['frequency']?.lanes?.[view.output.lane ?? ''];
    return {
      figure: shown === undefined ? 'keyed' : toldFigure(shown),
      aside: frequency === undefined ? '' : withUnit(String(frequency), 'MHz'),
    };
  },
  about: channel,
  patience: () => '',
};

export const family: Family = {
  id: 'radios',
  faces: { 'radio.': face },
  plate: {
    vhfLow: 'VHF from',
    vhfHigh: 'VHF to',
    vhfPower: 'VHF power',
    uhfLow: 'UHF from',
    uhfHigh: 'UHF to',
    uhfPower: 'UHF power',
    outerDeviation: 'outer symbols',
    subTone: 'sub-audible tone',
  },
  params: {
    frequency: 'Frequency',
    spacing: 'Channel spacing',
    ratedPower: 'Rated power',
    lowEnd: 'Low end',
    highEnd: 'High end',
    microphone: 'Microphone level',
    subTone: 'Sub-audible tone',
    outer: 'Outer symbols',
    window: 'Aim window',
    balanceWindow: 'Aim window, balance',
    level: 'Level',
  },
  sketches: { radio: RadioSketch },
};
