import { useState, type FormEvent } from 'react';
import { laneName, stepOf } from '../../state/steps';
import { countdown, figure, typedNumber, withUnit } from '../../state/words';
import { Button } from '../../ui/controls';
import { useBench } from '../context';
import { useNow } from '../useCooling';

/** What may be charged still: measured, earthed by hand, kept earthed for its time; nothing starts before. */
export function ChargeStage() {
  const bench = useBench();
  const { view } = bench.ready;
  const charge = view.charges[0];
  if (charge === undefined) {
    return null;
  }
  const step = stepOf(view, charge.step);
  const lane = step === undefined ? '' : laneName(step, charge.lane);
  return (
    <div className="flex flex-1 flex-col justify-center gap-4 px-10" data-charge>
      <p className="text-2xl leading-snug font-semibold">
        {[step?.title ?? charge.step, lane].filter((w) => w !== '').join(', ')} may have left a charge. Do not touch it.
      </p>
      {charge.free !== undefined ? (
        <Earthed until={charge.free} />
      ) : charge.residual === undefined || charge.residual > charge.below ? (
        <Residual charge={charge} />
      ) : (
        <>
          <p className="text-lg">
            {withUnit(figure(charge.residual), 'V')} are left, at most {withUnit(figure(charge.below), 'V')}.
          </p>
          <Button
            weight="primary"
            className="min-h-12 self-start px-5"
            disabled={!bench.mayAct}
            onClick={() =>
              void bench.driver.act('Recording', 'earthed', { step: charge.step, lane: charge.lane }, charge.step)
            }
          >
            {charge.text}
          </Button>
        </>
      )}
    </div>
  );
}

function Earthed({ until }: { until: string }) {
  const bench = useBench();
  const now = useNow(true);
  // The page's steady clock has no date: what is left was left when the view came.
  const [left] = useState(() => (Date.parse(until) - Date.now()) / 1000);
  const gone = Math.max(0, now - bench.ready.since) / 1000;
  const [asked, setAsked] = useState(false);
  const still = Math.max(0, left - gone);
  if (still === 0 && !asked) {
    setAsked(true);
    void bench.driver.refresh();
  }
  return (
    <p className="text-lg">
      Earthed. Leave it so for another <b className="font-mono font-semibold">{countdown(still)}</b>.
    </p>
  );
}

function Residual({ charge }: { charge: { step: string; lane: string; below: number; residual?: number } }) {
  const bench = useBench();
  const [typed, setTyped] = useState('');
  const volts = typedNumber(typed);
  const send = (e: FormEvent): void => {
    e.preventDefault();
    if (volts !== null) {
      void bench.driver
        .act('Recording', 'discharged', {
          step: charge.step,
          lane: charge.lane,
          residual: { value: volts, unit: 'V' },
        })
        .then((done) => (done ? setTyped('') : undefined));
    }
  };
  return (
    <form onSubmit={send} className="flex flex-wrap items-center gap-3">
      <label className="w-full text-lg" htmlFor="residual">
        {charge.residual === undefined
          ? 'Measure the voltage that is left.'
          : `${withUnit(figure(charge.residual), 'V')} are left: wait, and measure again.`}{' '}
        It is earthed at {withUnit(figure(charge.below), 'V')} or less.
      </label>
      <input
        id="residual"
        autoFocus
        inputMode="decimal"
        className="w-40 text-right font-mono"
        value={typed}
        disabled={!bench.mayAct}
        onChange={(e) => setTyped(e.target.value)}
      />
      <span>V</span>
      <Button weight="primary" type="submit" disabled={volts === null || !bench.mayAct}>
        Enter the voltage
      </Button>
    </form>
  );
}
