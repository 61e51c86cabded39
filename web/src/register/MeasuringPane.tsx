import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useNavigate } from 'react-router';
import { measuring, remove } from '../api/register';
import { plural } from '../state/words';
import { Menu, MenuItem } from '../ui/Menu';
import { AddDialog } from './AddDialog';
import { Changes } from './Changes';
import { Editable } from './Editable';
import { Files } from './Files';
import { Failed, Waiting } from './PaneParts';
import { PlaceRow } from './PlaceRow';
import { ReasonDialog } from './ReasonDialog';

/** A measuring installation: transformers, meter and what else belongs together, as its parts. */
export function MeasuringPane({ code }: { code: string }) {
  const page = useQuery({ queryKey: ['register', 'measuring', code], queryFn: () => measuring(code) });
  const [asking, setAsking] = useState<'add' | 'remove' | null>(null);
  const go = useNavigate();
  if (page.data === undefined) {
    return page.isError ? <Failed problem={page.error} again={() => void page.refetch()} /> : <Waiting />;
  }
  const { parts, files, site, siteName, title, zone } = page.data;
  return (
    <>
      <header className="flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 className="text-[21px] font-semibold">{code}</h1>
        <span className="min-w-0 flex-1 text-[16px]">
          <Editable
            kind="measuring-installations"
            of={code}
            field="title"
            label="Title"
            value={title}
            empty="give it a title"
          />
        </span>
        <Menu word="Do">
          <MenuItem chosen={() => setAsking('add')}>Add a part…</MenuItem>
          <MenuItem chosen={() => setAsking('remove')}>Take it apart…</MenuItem>
        </Menu>
      </header>
      <p className="mt-1 font-condensed text-quiet">Measuring installation at {siteName}</p>
      <section className="mt-4" aria-label="Parts">
        <h2 className="border-b border-rule pb-1 font-semibold">{plural(parts.length, 'part')}</h2>
        <ul>
          {parts.map((p) => (
            <li key={p.position} className="border-b border-rule">
              <PlaceRow line={p} current={false} part />
            </li>
          ))}
        </ul>
        {parts.length === 0 ? (
          <p className="mt-1 max-w-prose">
            It has no parts yet. Add positions for its transformers, its meter and whatever else is measured as one.
          </p>
        ) : null}
      </section>
      <Files kind="measuringInstallation" of={code} files={files} zone={zone} />
      <section className="mt-5" aria-label="Changes">
        <h2 className="border-b border-rule pb-1 font-semibold">Who changed what</h2>
        <Changes of={`measuringInstallation:${code}`} zone={zone} />
      </section>
      {asking === 'add' ? <AddDialog what="position" site={site} close={() => setAsking(null)} /> : null}
      {asking === 'remove' ? (
        <ReasonDialog
          title={`Take apart ${code}`}
          word="Take it apart"
          send={() => remove('measuring-installations', code)}
          done={() => void go('/register')}
          close={() => setAsking(null)}
        >
          <p>
            Its {plural(parts.length, 'position')} stay{parts.length === 1 ? 's' : ''}, and stand
            {parts.length === 1 ? 's' : ''} for themselves then. Its photos and documents go. It can be undone.
          </p>
        </ReasonDialog>
      ) : null}
    </>
  );
}
