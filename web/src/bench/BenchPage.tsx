import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useMemo, useRef, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { LinkNews } from '../app/LinkNews';
import { BarredNotice } from '../register/BarredNotice';
import { TextLink } from '../app/Frame';
import { useDesk } from '../app/useRun';
import { desk } from '../state/desk';
import { recordAddress } from '../record/words';
import type { Ready } from '../state/run';
import type { RunDriver } from '../state/runDriver';
import { stepOf, stepsInScope } from '../state/steps';
import { Button, Notice } from '../ui/controls';
import { BenchContext, type Asked, type Bench, type Overlay } from './context';
import { Deck } from './Deck';
import { Ledger } from './Ledger';
import { Path } from './Path';
import { Questions } from './Questions';
import { Stage } from './Stage';

/** The bench: path, stage, ledger and deck around one run. */
export function BenchPage() {
  const { run = '' } = useParams();
  const held = useDesk();
  const queries = useQueryClient();
  const over = held?.model.status === 'ready' && held.model.refusal?.status === 401;
  useEffect(() => {
    if (over) {
      // The session has ended: signing in again leads back here, to the same run.
      desk.clear();
      void queries.invalidateQueries({ queryKey: ['session'] });
    }
  }, [over, queries]);
  const onDesk = held?.driver.run;
  const safe = held?.model.status === 'ready' && held.model.view.output.mode === 'safe';
  useEffect(() => {
    desk.open(run, false);
    // Again when the run that was in the way is safe.
  }, [run, onDesk, safe]);
  const busy = desk.busyWith(run);
  if (busy !== null) {
    return (
      <div className="max-w-2xl p-8">
        <Notice>
          Another run is armed or live under this page. Stop it, or let it end; then come back here.{' '}
          <TextLink to={`/bench/${busy.run}`}>To that run</TextLink>
        </Notice>
      </div>
    );
  }
  if (held === null || held.driver.run !== run || held.model.status === 'loading') {
    return <p className="p-8 text-quiet">Laying out the bench…</p>;
  }
  if (held.model.status === 'failed') {
    const { problem } = held.model;
    return (
      <div className="max-w-2xl p-8">
        <Notice
          action={
            <Button
              onClick={() => {
                desk.clear();
                desk.open(run, false);
              }}
            >
              Try again
            </Button>
          }
        >
          {problem.status === 404 ? 'There is no run at this address. It may have been typed wrong.' : problem.message}{' '}
          <TextLink to="/round">To the round</TextLink>
        </Notice>
      </div>
    );
  }
  return <Laid key={run} driver={held.driver} ready={held.model} />;
}

function Laid({ driver, ready }: { driver: RunDriver; ready: Ready }) {
  const { view } = ready;
  const go = useNavigate();
  const [looking, setLooking] = useState<{ step: string; from: string | undefined } | null>(null);
  const [overlay, lay] = useState<Overlay | null>(null);
  const [asked, ask] = useState<Asked | null>(null);
  const [waived, waive] = useState(false);
  const photo = useRef<HTMLInputElement>(null);
  // Looking at another step ends when the run turns to one, and does not come back when the run does.
  if (looking !== null && looking.from !== view.currentStep) {
    setLooking(null);
  }
  const looked = looking !== null && looking.from === view.currentStep ? looking.step : null;
  const step = stepOf(view, looked) ?? stepOf(view, view.currentStep) ?? stepsInScope(view)[0] ?? view.steps[0];
  const bench = useMemo<Bench | null>(
    () =>
      step === undefined
        ? null
        : {
            driver,
            ready,
            step,
            look: (id) => setLooking(id === null ? null : { step: id, from: ready.view.currentStep }),
            overlay,
            lay,
            ask,
            waived,
            waive,
            takePhoto: () => photo.current?.click(),
            mayAct:
              ready.drives &&
              ready.view.status === 'open' &&
              ready.view.interrupted === undefined &&
              ready.link.status !== 'lost',
          },
    [driver, ready, step, overlay, waived],
  );
  if (bench === null) {
    return <p className="p-8">This procedure has no steps.</p>;
  }
  return (
    <BenchContext.Provider value={bench}>
      <main className="grid h-full grid-cols-[248px_minmax(0,1fr)_344px] grid-rows-[minmax(0,1fr)_auto] max-[1000px]:grid-cols-[216px_minmax(0,1fr)] max-[1000px]:grid-rows-[minmax(0,1fr)_minmax(0,300px)_auto]">
        <Path />
        <section className="flex min-h-0 min-w-0 flex-col" aria-label="Stage">
          <BarredNotice asset={view.asset.asset} zone={view.zone} />
          <LinkNews ready={ready} />
          <Stage />
        </section>
        <Ledger />
        <Deck leave={() => void go('/round')} toRecord={() => void go(recordAddress(view.record ?? ''))} />
      </main>
      <input
        ref={photo}
        type="file"
        accept="image/jpeg,image/png"
        capture="environment"
        className="hidden"
        aria-label="Photo"
        data-photo
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = '';
          if (file !== undefined) {
            ask({ kind: 'photo', file });
          }
        }}
      />
      {asked !== null ? <Questions asked={asked} close={() => ask(null)} /> : null}
    </BenchContext.Provider>
  );
}
