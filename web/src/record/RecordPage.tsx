import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useParams } from 'react-router';
import { Problem } from '../api/http';
import { record, recordPath } from '../api/records';
import type { RecordAnswer } from '../api/types';
import { usePlace } from '../app/place';
import { BarredNotice } from '../register/BarredNotice';
import { Button, Notice } from '../ui/controls';
import { ActionsAbove, RecordSide } from './RecordSide';
import { RecordSheet } from './RecordSheet';
import { ActDialog, type Act } from './ActDialog';

/** A record as a page one would sign, with what can be done with it beside it. */
export function RecordPage() {
  const { position = '', year = '', n = '' } = useParams();
  const number = `${position}/${year}/${n}`;
  const answer = useQuery({ queryKey: ['record', number], queryFn: () => record(number), refetchOnMount: 'always' });
  const place = (
    <>
      {answer.data === undefined ? '' : `${answer.data.record.asset.siteName} › `}
      <Link className="underline-offset-4 hover:underline" to={`/asset/${encodeURIComponent(position)}`}>
        {position}
      </Link>{' '}
      › <b className="font-semibold">Record {number}</b>
    </>
  );
  usePlace(`Record ${number}`, place, `${number} ${answer.data?.record.asset.siteName ?? ''}`);
  if (answer.data === undefined) {
    return answer.isError ? (
      <main className="p-8">
        <Notice action={<Button onClick={() => void answer.refetch()}>Try again</Button>}>
          {answer.error instanceof Problem && answer.error.status === 404
            ? 'There is no record at this address. It may have been typed wrong.'
            : answer.error.message}
        </Notice>
        <p className="mt-4">
          <Link className="font-semibold text-lake underline underline-offset-4" to="/records">
            All records
          </Link>
        </p>
      </main>
    ) : (
      <p className="p-8 text-quiet">Fetching the record…</p>
    );
  }
  return <RecordOnPage key={number} number={number} answer={answer.data} />;
}

function RecordOnPage({ number, answer }: { number: string; answer: RecordAnswer }) {
  const [act, setAct] = useState<Act | null>(null);
  const queries = useQueryClient();
  const done = (after: RecordAnswer): void => {
    queries.setQueryData(['record', number], after);
    void queries.invalidateQueries({ queryKey: ['records'] });
    setAct(null);
  };
  return (
    <>
      <BarredNotice asset={answer.record.asset.asset} zone={answer.record.zone} />
      <main className="grid min-h-full grid-cols-[minmax(0,1fr)_292px] max-[1000px]:block">
        <ActionsAbove answer={answer} act={setAct} files={recordPath(number)} />
        <RecordSheet record={answer.record} context={answer.context} />
        <RecordSide answer={answer} act={setAct} files={recordPath(number)} />
        {act !== null ? (
          <ActDialog
            act={act}
            answer={answer}
            done={done}
            close={() => setAct(null)}
            look={() => void queries.invalidateQueries({ queryKey: ['record', number] })}
          />
        ) : null}
      </main>
    </>
  );
}
