import { useQuery } from '@tanstack/react-query';
import { startingOffers } from '../api/starting';
import type { StartingOffer } from '../api/types';
import { counts, laneName, nextAt } from '../state/steps';
import { figure, symbolOf, withUnit } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { useBench } from './context';

/** Of what is set: what makes no difference is not offered. */
const SAME = 0.005;
/** What one press changes, of what it is. */
const NUDGE = 0.01;

type Known = StartingOffer & { readonly value: number };

const differs = (o: StartingOffer): o is Known =>
  o.value !== undefined && Math.abs(o.value - o.now) > SAME * Math.abs(o.now);

/** What is set, in words: a share is one of what is wanted. */
const setTo = (o: StartingOffer, value: number): string =>
  o.unit === '1'
    ? `${value.toFixed(3)} × ${withUnit(figure(o.wanted), symbolOf(o.wantedUnit))}`
    : withUnit(figure(value), symbolOf(o.unit));

/**
 * What the source of a step starts from: changed by hand in small steps, or taken from what hit before on the type of
 * device.
 */
export function StartingPoints() {
  const { ready, step, driver, mayAct } = useBench();
  const { view } = ready;
  const open =
    Object.values(step.params).some((p) => p.learned === true) &&
    view.status === 'open' &&
    view.output.mode === 'safe' &&
    step.skipped === undefined;
  const { data } = useQuery({
    queryKey: ['starting-offers', view.id, step.id, view.n],
    queryFn: () => startingOffers(view.id, step.id),
    enabled: open,
    placeholderData: (before) => before,
  });
  if (!open || data === undefined || data.length === 0) {
    return null;
  }
  const next = nextAt(view, step);
  const lane = next.kind === 'measure' ? next.point.lane : data[0]?.at;
  const here = data.find((o) => o.at === lane);
  // What was measured stays as it is: offered is what is measured next, and what was never measured.
  const measured = new Set(view.attempts.filter((a) => a.step === step.id && counts(a)).map((a) => a.lane));
  const offered = data.filter(differs).filter((o) => o.at === lane || !measured.has(o.at));
  const first = offered.find((o) => o.at === lane) ?? offered[0];
  const may = mayAct && ready.doing === null;
  const from = (o: StartingOffer): string =>
    o.lane !== undefined
      ? `as found on ${laneName(step, o.lane)} of this run`
      : o.record === undefined
        ? `set by ${o.by ?? 'somebody'}`
        : `${o.model}, ${o.record}`;
  const set = (o: StartingOffer, value: number, reason: string): Promise<boolean> =>
    driver.act('Setting where it starts', 'paramChanged', { step: step.id, param: o.param, lane: o.at, value, reason });
  const nudge = (o: StartingOffer, by: number): void => {
    const to = Math.min(o.high, Math.max(o.low, Number((o.now * (1 + by)).toPrecision(4))));
    void set(o, to, 'nudged by hand');
  };
  const take = async (): Promise<void> => {
    for (const o of offered) {
      if (!(await set(o, Number(o.value.toPrecision(5)), `starting point: ${from(o)}`))) {
        return;
      }
    }
  };
  return (
    <div className="px-5 pb-1" data-starting-points>
      {here !== undefined ? (
        <p className="flex flex-wrap items-center gap-x-2 font-condensed text-[15px] text-quiet">
          <span>
            Source for {laneName(step, here.at)} set to{' '}
            <b className="font-mono text-[15px] font-semibold text-ink" data-set>
              {setTo(here, here.now)}
            </b>
          </span>
          <Button
            weight="quiet"
            className="px-2"
            disabled={!may || here.now <= here.low}
            onClick={() => nudge(here, -NUDGE)}
            aria-label="One per cent less"
          >
            − 1 %
          </Button>
          <Button
            weight="quiet"
            className="px-2"
            disabled={!may || here.now >= here.high}
            onClick={() => nudge(here, NUDGE)}
            aria-label="One per cent more"
          >
            + 1 %
          </Button>
        </p>
      ) : null}
      {first !== undefined ? (
        <Notice
          action={
            <Button disabled={!may} onClick={() => void take()}>
              {offered.length === 1 ? 'Start from it' : `Start from what is known, all ${offered.length}`}
            </Button>
          }
        >
          {first.hit === undefined ? '' : `It gave ${withUnit(figure(first.hit), symbolOf(first.wantedUnit))} before. `}
          To give {withUnit(figure(first.wanted), symbolOf(first.wantedUnit))} on {laneName(step, first.at)} it needs{' '}
          <b className="font-semibold">{setTo(first, first.value)}</b> ({from(first)}).
        </Notice>
      ) : null}
    </div>
  );
}
