import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { Link, useNavigate } from 'react-router';
import { bringBack, position as positionPage, remove, retire } from '../api/register';
import type { PositionPage } from '../api/types';
import { DeviceJobs } from '../job/DeviceJobs';
import { dayAt, plural } from '../state/words';
import { Button } from '../ui/controls';
import { Menu, MenuItem } from '../ui/Menu';
import { BarredTag, STANDING_WORDS, StandingMark } from '../ui/StandingMark';
import { seriesAddress } from '../series/address';
import { testSetAddress } from '../testset/address';
import { assetAddress, measuringAddress } from './address';
import { Changes } from './Changes';
import { Editable } from './Editable';
import { ExchangeDialog, type Exchanging } from './ExchangeDialog';
import { ExtraValues } from './ExtraValues';
import { Files } from './Files';
import { HistoryAxis } from './HistoryAxis';
import { Failed, Waiting } from './PaneParts';
import { ReasonDialog } from './ReasonDialog';

/** A position: what stands there, what has stood there, and what can be done. */
export function PositionPane({ code }: { code: string }) {
  const page = useQuery({
    queryKey: ['register', 'position', code],
    queryFn: () => positionPage(code),
    refetchOnMount: 'always',
  });
  if (page.data === undefined) {
    return page.isError ? <Failed problem={page.error} again={() => void page.refetch()} /> : <Waiting />;
  }
  return <Position page={page.data} code={code} />;
}

type Asking = Exchanging | 'retire' | 'back' | 'remove';

function Position({ page, code }: { page: PositionPage; code: string }) {
  const { place, zone } = page;
  const [asking, setAsking] = useState<Asking | null>(null);
  const go = useNavigate();
  const close = (): void => setAsking(null);
  const empty = place.asset === undefined;
  const unused = page.held.length === 0 && page.records === 0;
  return (
    <>
      <header className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="text-[21px] font-semibold">{code}</h1>
        <span className="min-w-0 flex-1 text-[16px]">
          <Editable
            kind="positions"
            of={code}
            field="title"
            label="Title"
            value={place.title}
            empty="give it a title"
          />
        </span>
        <Menu word="Do">
          {empty && place.retired === undefined ? (
            <MenuItem chosen={() => setAsking('install')}>Install a device…</MenuItem>
          ) : null}
          {empty ? null : <MenuItem chosen={() => setAsking('exchange')}>Exchange the device…</MenuItem>}
          {page.held.length > 0 && place.retired === undefined ? (
            <MenuItem chosen={() => void go(seriesAddress(code))}>Test one after the other here…</MenuItem>
          ) : null}
          {empty ? null : (
            <MenuItem chosen={() => void go(testSetAddress(code))}>Its set of tests, in one go…</MenuItem>
          )}
          {empty ? null : <MenuItem chosen={() => setAsking('takeOut')}>Take the device out…</MenuItem>}
          {place.retired === undefined ? (
            unused ? (
              <MenuItem chosen={() => setAsking('remove')}>Take the position away…</MenuItem>
            ) : (
              <MenuItem chosen={() => setAsking('retire')}>Retire the position…</MenuItem>
            )
          ) : (
            <MenuItem chosen={() => setAsking('back')}>Bring it back…</MenuItem>
          )}
        </Menu>
      </header>
      {place.retired !== undefined ? (
        <p className="mt-2 border-l-4 border-ink bg-sheet px-3 py-2">
          <b className="font-semibold">Retired:</b> {place.retired}
        </p>
      ) : null}
      <section className="mt-4" aria-label="What stands here">
        <h2 className="border-b border-rule pb-1 font-semibold">What stands here</h2>
        {place.asset === undefined ? (
          <p className="flex flex-wrap items-center gap-4 py-2">
            <span className="min-w-0 flex-1">
              {place.retired === undefined ? 'Nothing at the moment.' : 'Nothing any more.'}
            </span>
            {place.retired === undefined ? (
              <Button onClick={() => setAsking('install')}>Install a device…</Button>
            ) : null}
          </p>
        ) : (
          <div className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2" data-standing-here={place.asset.id}>
            <StandingMark standing={place.asset.standing} size={20} />
            <p className="min-w-0 flex-1">
              <Link
                className="text-[17px] font-semibold text-lake underline-offset-4 hover:underline"
                to={assetAddress(place.asset.id)}
              >
                {place.asset.maker} {place.asset.model}, no. {place.asset.serial}
              </Link>
              <span className="block font-condensed text-quiet">
                {place.asset.id}, {place.asset.assetClass.toLowerCase()}
                {since(page) === undefined ? '' : `, since ${dayAt(since(page) ?? '', zone)}`}.{' '}
                {STANDING_WORDS[place.asset.standing]}
                {page.jobs > 0 ? `. ${plural(page.jobs, 'job')} laid` : ''}.
              </span>
            </p>
            {place.asset.doNotUse !== undefined ? <BarredTag why={place.asset.doNotUse} /> : null}
            <Button onClick={() => setAsking('exchange')}>Exchange…</Button>
          </div>
        )}
      </section>
      {place.asset !== undefined ? <DeviceJobs asset={place.asset.id} installed zone={zone} /> : null}
      <section className="mt-4" aria-label="What has stood here">
        <div className="flex items-baseline justify-between border-b border-rule pb-1">
          <h2 className="font-semibold">What has stood here</h2>
          {page.records > 0 ? (
            <Link
              className="font-semibold text-lake underline-offset-4 hover:underline"
              to={`/records?position=${encodeURIComponent(code)}`}
            >
              {plural(page.records, 'record')} of this position
            </Link>
          ) : null}
        </div>
        {page.held.length === 0 ? (
          <p className="mt-1 font-condensed text-quiet">
            Nothing yet. From the first device on, all that stood here are shown on one axis with their tests.
          </p>
        ) : (
          <HistoryAxis position={code} held={page.held} zone={zone} />
        )}
      </section>
      <section className="mt-5 max-w-[520px]" aria-label="About the position">
        <h2 className="border-b border-rule pb-1 font-semibold">About it</h2>
        <dl>
          <div className="flex items-baseline justify-between gap-3 border-b border-rule">
            <dt className="text-quiet">Family</dt>
            <dd className="inline-flex min-h-8 items-center">{place.family}</dd>
          </div>
          {place.partOf !== undefined ? (
            <>
              <div className="flex items-baseline justify-between gap-3 border-b border-rule">
                <dt className="text-quiet">Part of</dt>
                <dd>
                  <Link
                    className="inline-flex min-h-8 items-center font-semibold text-lake"
                    to={measuringAddress(place.partOf)}
                  >
                    {place.partOf}
                  </Link>
                </dd>
              </div>
              <div className="flex items-baseline justify-between gap-3 border-b border-rule">
                <dt className="text-quiet">As</dt>
                <dd className="min-w-0 text-right">
                  <Editable kind="positions" of={code} field="part" label="Part" value={place.part ?? ''} />
                </dd>
              </div>
            </>
          ) : null}
          <ExtraValues kind="positions" of={code} values={page.extra} />
        </dl>
      </section>
      <Files kind="position" of={code} files={page.files} zone={zone} />
      <section className="mt-5" aria-label="Changes">
        <h2 className="border-b border-rule pb-1 font-semibold">Who changed what</h2>
        <Changes of={`position:${code}`} zone={zone} />
      </section>
      {asking === 'exchange' || asking === 'install' || asking === 'takeOut' ? (
        <ExchangeDialog what={asking} place={place} close={close} />
      ) : null}
      {asking === 'retire' ? (
        <ReasonDialog
          title={`Retire ${code}`}
          asked="Why"
          word="Retire it"
          send={(why) => retire('positions', code, why)}
          close={close}
        >
          <p>
            Its records and its history stay and are found. Nothing can be installed there any more, until it is brought
            back.
          </p>
        </ReasonDialog>
      ) : null}
      {asking === 'back' ? (
        <ReasonDialog
          title={`Bring back ${code}`}
          word="Bring it back"
          send={() => bringBack('positions', code)}
          close={close}
        >
          <p>Devices can be installed there again.</p>
        </ReasonDialog>
      ) : null}
      {asking === 'remove' ? (
        <ReasonDialog
          title={`Take away ${code}`}
          word="Take it away"
          send={() => remove('positions', code)}
          done={() => void go('/register')}
          close={close}
        >
          <p>
            Nothing has stood or been tested here. The position goes, with its photos and documents. It can be undone.
          </p>
        </ReasonDialog>
      ) : null}
    </>
  );
}

/** Since when what stands there does. */
function since(page: PositionPage): string | undefined {
  return page.held.find((h) => h.asset.id === page.place.asset?.id)?.standings.find((s) => s.to === undefined)?.from;
}
