import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { setAdviceRisk } from '../api/condition';
import { plans } from '../api/plan';
import type { Plan, PlanAdvice, PlanLine } from '../api/types';
import { usePlanNews } from '../app/news';
import { usePlace } from '../app/place';
import { useSession } from '../app/session';
import { periodWords } from '../state/plan';
import { plural } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { months, trendAddress } from '../condition/words';
import { Option, Select } from '../ui/Select';
import { PlanDialog } from './PlanDialog';
import { PlanNav } from './PlanNav';
import { engineers } from '../state/roles';

/** Longer ones are not advised, months. */
const LONGEST_ADVICE = 120;

/** A plan that nobody has filled in yet. */
function empty(): Plan {
  return {
    id: 0,
    revision: 0,
    title: '',
    procedure: '',
    occasion: 'interval',
    positions: [],
    every: 'months',
    amount: 12,
    counting: 'due',
    before: 'P14D',
    after: 'P14D',
    starts: new Date().toLocaleDateString('sv'),
    reason: 'risk',
    basis: '',
    leadDays: 0,
    people: 1,
    outage: false,
    parts: {},
    covers: [],
    ended: false,
  };
}

/** All plans: what is due on what, how often, and what it needs. */
export function PlansPage() {
  usePlace('Plans', <b className="font-semibold">Plan › Plans</b>, 'plans');
  usePlanNews();
  const all = useQuery({ queryKey: ['plans'], queryFn: plans });
  const may = engineers(useSession());
  const risk = all.data?.find((l) => l.advice !== undefined)?.advice?.risk;
  const [open, setOpen] = useState<Plan | null>(null);
  const [filter, setFilter] = useState('');
  const [ended, setEnded] = useState(false);
  const shown = useMemo(() => {
    const words = filter
      .toLowerCase()
      .split(/\s+/)
      .filter((w) => w !== '');
    return (all.data ?? []).filter(
      (l) =>
        (ended || !l.plan.ended) &&
        words.every((w) =>
          `${l.plan.title} ${l.procedureTitle} ${l.classTitle} ${l.why} ${l.plan.positions.join(' ')} ${l.plan.basis}`
            .toLowerCase()
            .includes(w),
        ),
    );
  }, [all.data, filter, ended]);
  return (
    <main className="px-5 pb-8">
      <PlanNav />
      <header className="my-4 flex flex-wrap items-center gap-4">
        <h1 className="flex-1 text-[21px] font-semibold">
          {all.data === undefined ? 'Plans' : plural(all.data.filter((l) => !l.plan.ended).length, 'plan')}
        </h1>
        <input
          aria-label="Filter plans"
          placeholder="Filter"
          value={filter}
          onChange={(e) => setFilter(e.target.value)}
        />
        <label className="flex items-center gap-2">
          <input type="checkbox" checked={ended} onChange={(e) => setEnded(e.target.checked)} /> also ended ones
        </label>
        {may && risk !== undefined ? <Risk risk={risk} /> : null}
        {may ? (
          <Button weight="primary" onClick={() => setOpen(empty())}>
            Add a plan
          </Button>
        ) : null}
      </header>
      {all.isError ? (
        <Notice action={<Button onClick={() => void all.refetch()}>Try again</Button>}>
          The plans cannot be shown. {all.error.message}
        </Notice>
      ) : null}
      {all.isPending ? <p className="text-quiet">Fetching the plans…</p> : null}
      {all.isSuccess && shown.length === 0 ? (
        <p className="text-quiet">
          {all.data.length === 0
            ? 'No plan yet. A plan says that a procedure is due on a class or on positions every so often; it lays the jobs.'
            : 'No plan has these words.'}
        </p>
      ) : null}
      {shown.length > 0 ? (
        <table className="w-full border-collapse font-condensed text-[15px]">
          <thead>
            <tr className="border-b border-ink text-left text-[14px] text-quiet">
              <th className="py-1 pr-3 font-normal">plan, what it applies to</th>
              <th className="py-1 pr-3 font-normal">how often, window</th>
              <th className="py-1 pr-3 font-normal">advised</th>
              <th className="py-1 pr-3 font-normal max-[900px]:hidden">because of</th>
              <th className="py-1 pr-3 font-normal max-[1100px]:hidden">needs</th>
              <th className="py-1 pr-3 text-right font-normal">devices</th>
              <th className="py-1 pr-3 text-right font-normal">open jobs</th>
              <th className="py-1 text-right font-normal">over</th>
            </tr>
          </thead>
          <tbody>
            {shown.map((line) => (
              <Line key={line.plan.id} line={line} open={() => setOpen(line.plan)} />
            ))}
          </tbody>
        </table>
      ) : null}
      {open !== null ? <PlanDialog plan={open} may={may} close={() => setOpen(null)} key={open.id} /> : null}
    </main>
  );
}

function needs(plan: Plan): string {
  return [
    plan.outage ? 'outage' : '',
    plan.authorisation ?? '',
    plan.people > 1 ? `${plan.people} people` : '',
    plan.seasonFrom === undefined ? '' : 'season',
    ...Object.keys(plan.parts),
  ]
    .filter((w) => w !== '')
    .join(', ');
}

/** What records advise, beside what is set; it is never applied by itself. */
function Advised({ advice }: { advice: PlanAdvice }) {
  const words = (n: number): string => (n >= LONGEST_ADVICE ? `${months(LONGEST_ADVICE)} or more` : months(n));
  return (
    <span data-advised={advice.middle}>
      {words(advice.middle)}
      <span className="block text-[14px] text-quiet">
        {advice.shorter === 0 ? (
          advice.least < LONGEST_ADVICE ? (
            `least ${words(advice.least)}`
          ) : (
            ''
          )
        ) : (
          <>
            <b className="font-semibold text-ink">
              {advice.shorter} of {advice.devices} need it sooner
            </b>
            :{' '}
            <Link className="underline underline-offset-3" to={trendAddress(advice.leastAsset)}>
              {advice.leastPosition}
            </Link>{' '}
            {advice.least === 0 ? 'at once' : words(advice.least)}
          </>
        )}
      </span>
    </span>
  );
}

/** Sets the risk that advised intervals bear. */
function Risk({ risk }: { risk: number }) {
  const queries = useQueryClient();
  const act = useMutation({
    mutationFn: setAdviceRisk,
    onSuccess: () => {
      for (const key of ['plans', 'condition']) {
        void queries.invalidateQueries({ queryKey: [key] });
      }
    },
  });
  const risks = [...new Set([0.01, 0.05, 0.1, 0.2, risk])].sort((a, b) => a - b);
  return (
    <label
      className="flex items-center gap-2 font-condensed text-quiet"
      data-hint="Chance to find a device outside its limits at the next test that an advised interval may bear, from its drift and scatter."
    >
      advised at a risk of
      <Select value={String(risk)} onChange={(picked) => act.mutate(Number(picked))} disabled={act.isPending}>
        {risks.map((r) => (
          <Option key={r} value={String(r)}>
            {`${Math.round(r * 1000) / 10} %`}
          </Option>
        ))}
      </Select>
      {act.isError ? <span role="alert">{act.error.message}</span> : null}
    </label>
  );
}

function Line({ line, open }: { line: PlanLine; open: () => void }) {
  const { plan } = line;
  const window =
    plan.every === 'between' || plan.every === undefined
      ? ''
      : plan.before === plan.after
        ? `±${periodWords(plan.before)}`
        : `${periodWords(plan.before)} before, ${periodWords(plan.after)} after`;
  return (
    <tr className={`border-b border-rule align-top ${plan.ended ? 'text-quiet' : ''}`} data-plan={plan.title}>
      <td className="py-1.5 pr-3">
        <button
          type="button"
          className="text-left text-[15px] font-semibold underline-offset-4 hover:underline"
          onClick={open}
        >
          {plan.title}
        </button>
        {plan.ended ? ', ended' : ''}
        <span className="block text-[14px] text-quiet">
          {line.procedureTitle}
          {line.classTitle === ''
            ? `, ${plan.positions.join(', ')}`
            : line.procedureTitle.toLowerCase().includes(line.classTitle.toLowerCase())
              ? ''
              : `, ${line.classTitle.toLowerCase()}`}
          {plan.model === undefined ? '' : ` ${plan.model}`}
          {plan.covers.length === 0 ? '' : `, covers ${plan.covers.join(', ')}`}
        </span>
      </td>
      <td className="py-1.5 pr-3">
        {line.why}
        {plan.every === undefined ? `, within ${plural(plan.amount, 'day')}` : ''}
        <span className="block text-[14px] text-quiet">
          {window}
          {plan.every === 'months' || plan.every === 'days'
            ? `${window === '' ? '' : ', '}from the ${plan.counting === 'due' ? 'due date' : 'day done'}`
            : ''}
        </span>
      </td>
      <td className="py-1.5 pr-3">{line.advice === undefined ? '' : <Advised advice={line.advice} />}</td>
      <td className="py-1.5 pr-3 max-[900px]:hidden">
        {plan.reason}
        <span className="block text-[14px] text-quiet">{plan.basis}</span>
      </td>
      <td className="py-1.5 pr-3 max-[1100px]:hidden">{needs(plan)}</td>
      <td className="py-1.5 pr-3 text-right font-mono">{line.devices}</td>
      <td className="py-1.5 pr-3 text-right font-mono">{line.open}</td>
      <td className={`py-1.5 text-right font-mono ${line.over > 0 ? 'font-semibold' : 'text-quiet'}`}>{line.over}</td>
    </tr>
  );
}
