import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { forgetStartingPoint, setStartingPoint, startingPoints } from '../api/starting';
import type { StartingPointView } from '../api/types';
import { usePlace } from '../app/place';
import { useSession } from '../app/session';
import { BackToRegister, Failed } from '../register/PaneParts';
import { works } from '../state/roles';
import { dayAndTime, figure, plural, symbolOf, typedNumber, withUnit } from '../state/words';
import { AskDialog, WhyField } from '../ui/AskDialog';
import { Button } from '../ui/controls';
import { Field } from '../ui/Field';

const ZONE = Intl.DateTimeFormat().resolvedOptions().timeZone;

/** What it is set to, in words: a share is one of what is wanted. */
const setTo = (p: StartingPointView): string =>
  p.unit === '1' ? `${p.value.toFixed(3)} ×` : withUnit(figure(p.value), symbolOf(p.unit));

const amount = (p: StartingPointView, value: number): string => withUnit(figure(value), symbolOf(p.wantedUnit));

const typeOf = (p: StartingPointView): string => `${p.maker} ${p.model}`;

type Asked = { readonly kind: 'set' | 'forget'; readonly point: StartingPointView } | null;

/** What sources have to be set to, type by type, so that the next device of a type gets what it should at once. */
export function StartingPointsPage() {
  usePlace(
    'Starting points',
    <>
      Register › <b className="font-semibold">Starting points</b>
    </>,
    'starting-points',
  );
  const all = useQuery({ queryKey: ['starting-points'], queryFn: startingPoints });
  const may = works(useSession());
  const [typed, type] = useState('');
  const [asked, ask] = useState<Asked>(null);
  const wanted = typed.trim().toLowerCase();
  const found = (all.data ?? []).filter((p) => `${typeOf(p)} ${p.title}`.toLowerCase().includes(wanted));
  return (
    <main className="max-w-[1120px] px-5 py-4 pb-24">
      <BackToRegister />
      <h1 className="text-[21px] font-semibold">Starting points</h1>
      <p className="mb-3 max-w-prose">
        A source that nothing regulates gives less into one type of device than into another. What would have hit what
        was wanted is kept from each record, and offered at the bench to everyone for the next device of the type.
      </p>
      {all.isError ? <Failed problem={all.error} again={() => void all.refetch()} /> : null}
      {all.data?.length === 0 ? (
        <p className="text-quiet">None is known yet. The first record of a step that learns them brings them.</p>
      ) : null}
      {all.data !== undefined && all.data.length > 0 ? (
        <>
          <label className="block max-w-sm text-[14px] font-semibold">
            Search
            <input className="block w-full font-normal" value={typed} onChange={(e) => type(e.target.value)} />
          </label>
          <p className="mt-2 font-condensed text-quiet" role="status">
            {found.length === 0 ? `Nothing is known of “${typed}”.` : plural(found.length, 'starting point')}
          </p>
        </>
      ) : null}
      {[...new Set(found.map(typeOf))].map((name) => (
        <section key={name} aria-label={name} className="mt-4">
          <h2 className="border-b border-rule pb-1 text-[16px] font-semibold">{name}</h2>
          <ul>
            {found
              .filter((p) => typeOf(p) === name)
              .map((p) => (
                <Row key={p.id} point={p} may={may} ask={ask} />
              ))}
          </ul>
        </section>
      ))}
      {asked?.kind === 'set' ? <SetDialog point={asked.point} close={() => ask(null)} /> : null}
      {asked?.kind === 'forget' ? <ForgetDialog point={asked.point} close={() => ask(null)} /> : null}
    </main>
  );
}

function Row({ point: p, may, ask }: { point: StartingPointView; may: boolean; ask: (asked: Asked) => void }) {
  const told =
    p.record === undefined
      ? `set by ${p.by}: ${p.why ?? ''}`
      : `${p.hit === undefined ? '' : `gave ${amount(p, p.hit)}, `}${p.record}, ${p.by}`;
  return (
    <li
      className={
        'grid grid-cols-[minmax(0,1.3fr)_8rem_6rem_minmax(0,2fr)_auto] items-center gap-4 border-b border-rule py-1 ' +
        'max-[1000px]:grid-cols-[1fr_auto_auto]'
      }
      data-starting={p.id}
    >
      <span className="min-w-0 max-[1000px]:col-span-full">{p.title}</span>
      <span className="font-mono">for {amount(p, p.wanted)}</span>
      <b className="font-mono font-semibold" data-value>
        {setTo(p)}
      </b>
      <span className="min-w-0 font-condensed text-[15px] text-quiet max-[1000px]:col-span-full">
        {told}, {dayAndTime(p.at, ZONE)}
      </span>
      {may ? (
        <span className="flex gap-1 max-[1000px]:-ml-4">
          <Button weight="quiet" className="px-2" onClick={() => ask({ kind: 'set', point: p })}>
            Change…
          </Button>
          <Button weight="quiet" className="px-2" onClick={() => ask({ kind: 'forget', point: p })}>
            Forget…
          </Button>
        </span>
      ) : null}
    </li>
  );
}

/** The dialog is closed and the list read anew once something was done. */
function useDone(close: () => void): () => Promise<void> {
  const queries = useQueryClient();
  return () => {
    close();
    return queries.invalidateQueries({ queryKey: ['starting-points'] });
  };
}

function SetDialog({ point, close }: { point: StartingPointView; close: () => void }) {
  const done = useDone(close);
  const [value, setValue] = useState(figure(point.value));
  const [why, setWhy] = useState('');
  const number = typedNumber(value)?.value;
  const act = useMutation({
    mutationFn: () => setStartingPoint(point.id, { value: number ?? point.value, why, seen: point.at }),
    onSuccess: done,
  });
  return (
    <AskDialog
      title={`${typeOf(point)}, ${amount(point, point.wanted)}`}
      close={close}
      act={act}
      word="Set it"
      ready={number !== undefined}
      fields={['value', 'why']}
    >
      {(wrong) => (
        <>
          <Field
            label={point.unit === '1' ? 'Times what is wanted' : `Set to, ${symbolOf(point.unit)}`}
            wrong={number === undefined ? 'Type a number.' : wrong['value']}
            hint={`${figure(point.low)} to ${figure(point.high)}; a procedure may allow less`}
          >
            {(own) => (
              <input
                {...own}
                name="value"
                inputMode="decimal"
                className="block w-36 font-mono"
                value={value}
                onChange={(e) => setValue(e.target.value)}
              />
            )}
          </Field>
          <WhyField value={why} change={setWhy} wrong={wrong['why']} />
        </>
      )}
    </AskDialog>
  );
}

function ForgetDialog({ point, close }: { point: StartingPointView; close: () => void }) {
  const act = useMutation({ mutationFn: () => forgetStartingPoint(point.id, point.at), onSuccess: useDone(close) });
  return (
    <AskDialog title="Forget this starting point" close={close} act={act} word="Forget it" fields={[]}>
      {() => (
        <p>
          {typeOf(point)}, {amount(point, point.wanted)}: the next run starts from what is wanted, and finds it anew.
        </p>
      )}
    </AskDialog>
  );
}
