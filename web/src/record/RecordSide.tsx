import { DropdownMenu } from 'radix-ui';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import type { RecordAnswer } from '../api/types';
import { RaiseDialog } from '../plan/RaiseDialog';
import { NextOfSeries } from '../series/NextOfSeries';
import { dayAndTime, dayAt, dayWithYear } from '../state/words';
import { Button } from '../ui/controls';
import { Mark } from '../ui/Mark';
import { useNarrow } from '../ui/useNarrow';
import type { Act } from './ActDialog';
import { CaptureFilesDialog } from './CaptureFilesDialog';
import { compareAddress, standingOf, verdictWord } from './words';

const LINK =
  'inline-flex min-h-11 items-center justify-center rounded-xs border border-ink bg-sheet px-4 text-[15px] font-semibold';
const MOST = 3;
/** Others that are offered, beside the baseline; the list of records has them all. */
const SHOWN = 7;

interface Props {
  answer: RecordAnswer;
  act: (act: Act) => void;
  files: string;
}

/**
 * What can be done with a record: sign, print, take along, lay over others. On a tablet the first of it stands
 * above the sheet.
 */
export function RecordSide({ answer, act, files }: Props) {
  const narrow = useNarrow();
  return (
    <aside
      className="border-l border-rule px-4 py-4 max-[1000px]:border-t max-[1000px]:border-l-0"
      aria-label="What follows"
    >
      <div className="sticky top-4 max-[1000px]:static">
        {narrow ? null : <Actions answer={answer} act={act} files={files} />}
        <Signed answer={answer} />
        <NextOfSeries
          position={answer.record.asset.position}
          procedure={answer.record.procedure.code}
          record={answer.record.number}
        />
        <LayOver key={answer.record.number} answer={answer} />
        <Follows answer={answer} />
        <Evidence answer={answer} />
      </div>
    </aside>
  );
}

function Head({ children }: { children: string }) {
  return <h2 className="mt-6 mb-1 text-[13px] font-semibold text-quiet">{children}</h2>;
}

/** Above the sheet, where there is no room beside it. */
export function ActionsAbove(props: Props) {
  return useNarrow() ? (
    <div className="sticky top-0 z-10 border-b border-rule bg-paper px-5 py-2">
      <Actions {...props} />
    </div>
  ) : null;
}

function Actions({ answer, act, files }: Props) {
  const { mayNotSign, mayNotReview } = answer.context;
  const signed = answer.record.signing.state !== 'unsigned';
  const [naming, setNaming] = useState(false);
  return (
    <>
      {mayNotSign === undefined ? (
        <Button weight="primary" className="h-12 w-full" onClick={() => act('sign')} data-primary>
          Sign as performed
        </Button>
      ) : mayNotReview === undefined ? (
        <Button weight="primary" className="h-12 w-full" onClick={() => act('review')} data-primary>
          Review and sign
        </Button>
      ) : null}
      <div className="mt-2 flex flex-wrap gap-2 [&>*]:flex-1">
        {mayNotReview === undefined ? <Button onClick={() => act('return')}>Return</Button> : null}
        <a className={LINK} href={`${files}/pdf`} download>
          PDF
        </a>
        <DropdownMenu.Root>
          <DropdownMenu.Trigger className={LINK}>Data</DropdownMenu.Trigger>
          <DropdownMenu.Portal>
            <DropdownMenu.Content
              align="end"
              sideOffset={4}
              className="z-50 min-w-56 rounded-xs border border-ink bg-paper py-1 shadow-[0_8px_24px_rgb(0_0_0/0.25)]"
            >
              <Item href={`${files}/json`} word="JSON, with all its events" />
              <Item href={`${files}/csv`} word="CSV, a row a test point" />
              {answer.record.more.files ? (
                <DropdownMenu.Item
                  className="block cursor-pointer px-4 py-2.5 font-semibold outline-none data-highlighted:bg-lake data-highlighted:text-on-lake"
                  onSelect={() => setNaming(true)}
                >
                  What was captured, as files…
                </DropdownMenu.Item>
              ) : null}
            </DropdownMenu.Content>
          </DropdownMenu.Portal>
        </DropdownMenu.Root>
        {signed ? <Button onClick={() => act('amend')}>Amend</Button> : null}
      </div>
      {naming ? (
        <CaptureFilesDialog record={answer.record.number} address={`${files}/files`} close={() => setNaming(false)} />
      ) : null}
    </>
  );
}

function Item({ href, word }: { href: string; word: string }) {
  return (
    <DropdownMenu.Item asChild>
      <a
        href={href}
        download
        className="block cursor-pointer px-4 py-2.5 font-semibold outline-none data-highlighted:bg-lake data-highlighted:text-on-lake"
      >
        {word}
      </a>
    </DropdownMenu.Item>
  );
}

const WAITING = {
  unsigned: 'Not signed yet',
  signed: 'Waiting for review',
  returned: 'Returned, to be signed again',
  reviewed: null,
} as const;

function Signed({ answer }: { answer: RecordAnswer }) {
  const { signing, zone } = answer.record;
  const waiting = WAITING[signing.state];
  const { mayNotSign, mayNotReview } = answer.context;
  return (
    <section data-signing={signing.state}>
      <Head>Signed</Head>
      <ul>
        {signing.entries.map((e) => (
          <li key={`${e.at}${e.meaning}`} className="border-b border-rule py-1.5">
            <b className="font-semibold">{e.name}</b>
            <p className="font-condensed text-[14px] text-quiet">
              {e.meaning}
              {e.meaning === 'amended' ? `: ${e.concerns ?? ''}` : ''}, {dayAndTime(e.at, zone)}
            </p>
            {e.words !== undefined && e.meaning !== 'amended' ? (
              <p className="font-condensed text-[15px]">{e.words}</p>
            ) : null}
          </li>
        ))}
      </ul>
      {waiting !== null ? <p className="border-b border-rule py-1.5 font-semibold">{waiting}</p> : null}
      {waiting !== null && mayNotSign !== undefined && mayNotReview !== undefined ? (
        <p className="py-1.5 font-condensed text-[14px] text-quiet">
          {signing.state === 'signed' ? mayNotReview : mayNotSign}
        </p>
      ) : null}
      {answer.context.open !== undefined ? (
        <p className="py-1.5 font-condensed text-[15px]">Without a verdict: {answer.context.open}.</p>
      ) : null}
    </section>
  );
}

function LayOver({ answer }: { answer: RecordAnswer }) {
  const { others } = answer.context;
  const { number, finishedAt } = answer.record;
  const last = others.find((o) => o.finishedAt < finishedAt);
  const [picked, setPicked] = useState<readonly string[]>(last === undefined ? [] : [last.number]);
  const go = useNavigate();
  const toggle = (other: string): void =>
    setPicked((was) => (was.includes(other) ? was.filter((o) => o !== other) : [...was, other].slice(-MOST)));
  return (
    <section>
      <Head>Lay over</Head>
      {others.length === 0 ? (
        <p className="font-condensed text-quiet">
          This is the only record of this device. The next one will be compared with it.
        </p>
      ) : null}
      <ul>
        {others
          .filter((o, i) => i < SHOWN || o.baseline)
          .map((o) => (
            <li key={o.run} className="border-b border-rule">
              <label className="flex min-h-11 items-center gap-3 py-1">
                <input type="checkbox" checked={picked.includes(o.number)} onChange={() => toggle(o.number)} />
                <span className="min-w-0 flex-1 leading-tight">
                  <b className="font-semibold">{dayAt(o.finishedAt, o.zone)}</b>
                  {o.baseline ? ', baseline' : ''}
                  <br />
                  <span className="font-condensed text-[14px] text-quiet">{o.number}</span>
                </span>
                <Mark standing={standingOf(o)} silent />
                <span className="font-condensed text-[14px]">{verdictWord(o).toLowerCase()}</span>
              </label>
            </li>
          ))}
      </ul>
      {others.length > 0 ? (
        <Button
          className="mt-2 w-full"
          disabled={picked.length === 0}
          onClick={() => void go(compareAddress(number, picked))}
          data-compare
        >
          {picked.length === 0
            ? 'Tick what to compare with'
            : `Compare with ${picked.length === 1 ? 'it' : `these ${picked.length}`}`}
        </Button>
      ) : null}
    </section>
  );
}

function Follows({ answer }: { answer: RecordAnswer }) {
  const { next } = answer.context;
  const [raising, setRaising] = useState(false);
  const { asset } = answer.record;
  return (
    <section>
      <Head>What follows</Head>
      <p>
        {next === undefined
          ? 'No plan asks for anything of this device.'
          : `Next due ${dayWithYear(next.due)}, ${next.reason}.`}
      </p>
      <p className="mt-1">
        <Link
          className="font-semibold text-lake underline underline-offset-4"
          to={`/asset/${encodeURIComponent(asset.asset)}`}
        >
          Life of this device
        </Link>
      </p>
      <p>
        <button
          type="button"
          className="min-h-9 font-semibold text-lake underline underline-offset-4"
          onClick={() => setRaising(true)}
        >
          Raise a follow-up
        </button>
      </p>
      {raising ? (
        <RaiseDialog
          asset={asset.asset}
          assetClass={undefined}
          record={answer.record.run}
          procedure={answer.record.procedure.code}
          close={() => setRaising(false)}
        />
      ) : null}
    </section>
  );
}

function Evidence({ answer }: { answer: RecordAnswer }) {
  const { chain, procedure } = answer.record;
  const head = chain.head.match(/.{4}/g) ?? [];
  return (
    <section className="font-mono text-[13px] text-quiet">
      <Head>Evidence</Head>
      {chain.broken === undefined ? (
        <p>{chain.events} events, unbroken</p>
      ) : (
        <p className="font-semibold text-ink">
          The chain is broken: {chain.broken}. What stands here is not what was recorded.
        </p>
      )}
      {chain.unknown > 0 ? <p>{chain.unknown} of kinds this program does not know</p> : null}
      <p tabIndex={0} data-hint={chain.head}>
        head {head.slice(0, 2).join(' ')} … {head[head.length - 1]}
      </p>
      <p tabIndex={0} data-hint={procedure.hash}>
        procedure {procedure.code} {procedure.version}
      </p>
      <p>Juratest {chain.software}</p>
    </section>
  );
}
