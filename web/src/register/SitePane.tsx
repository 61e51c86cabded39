import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { overview, remove, site as sitePage } from '../api/register';
import type { SitePage } from '../api/types';
import { useSession } from '../app/session';
import { Menu, MenuItem } from '../ui/Menu';
import { AddDialog, type Adding } from './AddDialog';
import { Changes } from './Changes';
import { Editable } from './Editable';
import { ExtraFieldsOf } from './ExtraValues';
import { Files } from './Files';
import { Failed, Waiting } from './PaneParts';
import { ReasonDialog } from './ReasonDialog';
import { MarkCounts } from './Tree';
import { engineers } from '../state/roles';

/** A site: what is known of it, how what stands in it stands, and what can be done with it. */
export function SitePane({ code }: { code: string }) {
  const page = useQuery({ queryKey: ['register', 'site', code], queryFn: () => sitePage(code) });
  if (page.data === undefined) {
    return page.isError ? <Failed problem={page.error} again={() => void page.refetch()} /> : <Waiting />;
  }
  return <Site page={page.data} />;
}

function Site({ page }: { page: SitePage }) {
  const all = useQuery({ queryKey: ['register', 'overview'], queryFn: overview });
  const line = all.data?.sites.find((s) => s.code === page.code);
  const person = useSession();
  const [adding, setAdding] = useState<Adding | null>(null);
  const [going, setGoing] = useState(false);
  const go = useNavigate();
  const families = new Map<string, number>();
  page.places
    .filter((p) => p.retired === undefined)
    .forEach((p) => families.set(p.family, (families.get(p.family) ?? 0) + 1));
  const retired = page.places.filter((p) => p.retired !== undefined);
  const value = (field: string, label: string, text: string, shown?: string) => (
    <div className="flex items-baseline justify-between gap-3 border-b border-rule">
      <dt className="text-quiet">{label}</dt>
      <dd className="min-w-0 text-right">
        {engineers(person) ? (
          <Editable
            kind="sites"
            of={page.code}
            field={field}
            label={label}
            value={text}
            {...(shown === undefined ? {} : { shown })}
          />
        ) : (
          <span className="inline-flex min-h-8 items-center">{shown ?? text}</span>
        )}
      </dd>
    </div>
  );
  return (
    <>
      <header className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="min-w-0 flex-1 text-[21px] font-semibold">{page.name}</h1>
        <Menu word="Add here">
          <MenuItem chosen={() => setAdding('position')}>A position…</MenuItem>
          <MenuItem chosen={() => setAdding('measuring')}>A measuring installation…</MenuItem>
          {engineers(person) && page.places.length === 0 ? (
            <MenuItem chosen={() => setGoing(true)}>Take this site away…</MenuItem>
          ) : null}
        </Menu>
      </header>
      <dl className="mt-3 max-w-[420px] text-[15px]">
        {value('name', 'Name', page.name)}
        {value('km', 'Along the line', String(page.km), `km ${page.km}`)}
        {value('altitude', 'Altitude', String(page.altitude), `${page.altitude} m`)}
        {value('zone', 'Time zone', page.zone)}
      </dl>
      {line !== undefined && line.positions > 0 ? (
        <section className="mt-5" aria-label="What stands here">
          <div className="flex items-baseline justify-between border-b border-rule pb-1">
            <h2 className="font-semibold">What stands here</h2>
            <MarkCounts site={line} />
          </div>
          <ul className="mt-1 grid grid-cols-2 gap-x-8 font-condensed text-[15px] max-[700px]:grid-cols-1">
            {[...families].sort().map(([family, count]) => (
              <li key={family} className="flex justify-between border-b border-rule py-1">
                {family} <span className="font-mono">{count}</span>
              </li>
            ))}
            {line.empty > 0 ? (
              <li className="flex justify-between border-b border-rule py-1 italic">
                empty positions <span className="font-mono not-italic">{line.empty}</span>
              </li>
            ) : null}
          </ul>
          {retired.length > 0 ? (
            <p className="mt-2 font-condensed text-quiet">
              Retired positions: {retired.map((p) => p.position).join(', ')}.
            </p>
          ) : null}
        </section>
      ) : (
        <p className="mt-5 max-w-prose">
          No position has been added at this site. A position is a permanent place where a device is installed; it keeps
          its code and its history when the device changes.
        </p>
      )}
      <ExtraFieldsOf site={page.code} fields={page.extra} words="The positions of this site" />
      <Files kind="site" of={page.code} files={page.files} zone={page.zone} />
      <section className="mt-5" aria-label="Changes">
        <h2 className="border-b border-rule pb-1 font-semibold">Who changed what</h2>
        <Changes of={`site:${page.code}`} zone={page.zone} />
      </section>
      {adding !== null ? <AddDialog what={adding} site={page.code} close={() => setAdding(null)} /> : null}
      {going ? (
        <ReasonDialog
          title={`Take away ${page.name}`}
          word="Take it away"
          send={() => remove('sites', page.code)}
          done={() => void go('/register')}
          close={() => setGoing(false)}
        >
          <p>The site goes, with its photos and documents. It can be undone.</p>
        </ReasonDialog>
      ) : null}
    </>
  );
}
