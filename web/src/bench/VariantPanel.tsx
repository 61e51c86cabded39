import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useRef, useState } from 'react';
import { takeVariant, variantFile, variantsOf } from '../api/variants';
import { Problem } from '../api/http';
import { dayAt } from '../state/words';
import { Button, Notice } from '../ui/controls';
import { useBench } from './context';
import { Option, Select } from '../ui/Select';

/** By which variant of its procedure a run is carried out; chosen before it begins. */
export function VariantPanel() {
  const bench = useBench();
  const { view } = bench.ready;
  const queries = useQueryClient();
  const all = useQuery({ queryKey: ['variants', view.procedure], queryFn: () => variantsOf(view.procedure) });
  const file = useRef<HTMLInputElement>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const changed = view.altered.length > 0 || view.points.some((p) => p.altered);
  const busy = !bench.mayAct || bench.ready.doing !== null;
  const taken = all.data?.find((v) => v.code === view.variant?.code);
  const take = async (from: File): Promise<void> => {
    setProblem(null);
    try {
      const kept = await takeVariant(from);
      await queries.invalidateQueries({ queryKey: ['variants'] });
      await bench.driver.applyVariant(kept.code);
    } catch (e) {
      setProblem(e instanceof Problem ? e.message : String(e));
    }
  };
  return (
    <section aria-label="Variant" className="mt-7" data-variant>
      <h2 className="text-[13px] font-semibold text-quiet">Carried out by</h2>
      <div className="mt-1 flex flex-wrap items-center gap-3">
        <Select
          aria-label="Variant"
          className="min-w-64"
          value={view.variant?.code ?? ''}
          onChange={(picked) => {
            if (!busy) {
              void bench.driver.applyVariant(picked === '' ? null : picked);
            }
          }}
        >
          <Option value="">The procedure as it stands</Option>
          {(all.data ?? []).map((v) => (
            <Option key={v.code} value={v.code}>
              {v.name}, revision {v.revision}
            </Option>
          ))}
        </Select>
        <Button disabled={busy} onClick={() => bench.ask({ kind: 'settings' })}>
          Limits and parameters…
        </Button>
        <Button disabled={busy} onClick={() => bench.ask({ kind: 'saveVariant' })}>
          Save as variant…
        </Button>
        <Button disabled={busy} onClick={() => file.current?.click()}>
          From a file…
        </Button>
        {taken !== undefined ? (
          <a
            className="font-semibold text-lake underline underline-offset-4"
            href={variantFile(taken.code, taken.revision)}
            download
          >
            To a file
          </a>
        ) : null}
      </div>
      <p className="mt-1 font-condensed text-[14px] text-quiet">
        {view.variant !== undefined
          ? `${view.variant.name}, revision ${view.variant.revision}${taken === undefined ? '' : `, by ${taken.by} on ${dayAt(taken.at, view.zone)}: ${taken.words}`}. `
          : 'Scope, limits and parameters of the procedure. '}
        {view.variant?.changed === true ? 'Changed since, for this run. ' : ''}
        {changed ? `Changed from the procedure: ${changes(view)}.` : ''}
      </p>
      {problem !== null ? (
        <div className="mt-2">
          <Notice>{problem}</Notice>
        </div>
      ) : null}
      <input
        ref={file}
        type="file"
        accept="application/json,.json"
        className="hidden"
        aria-label="Variant file"
        data-variant-file
        onChange={(e) => {
          const from = e.target.files?.[0];
          e.target.value = '';
          if (from !== undefined) {
            void take(from);
          }
        }}
      />
    </section>
  );
}

function changes(view: ReturnType<typeof useBench>['ready']['view']): string {
  const limits = view.points.filter((p) => p.altered).length;
  const params = view.altered.length;
  const words = [
    limits === 0 ? '' : `${limits} ${limits === 1 ? 'limit' : 'limits'}`,
    params === 0 ? '' : `${params} ${params === 1 ? 'parameter' : 'parameters'}`,
  ].filter((w) => w !== '');
  return words.join(' and ');
}
