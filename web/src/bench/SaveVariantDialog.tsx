import { useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { Button, Notice } from '../ui/controls';
import { Dialog } from '../ui/Dialog';
import { useBench } from './context';

/** Saves scope, limits and parameters of this run: as a new variant, or as the next revision of the one it goes by. */
export function SaveVariantDialog({ close }: { close: () => void }) {
  const bench = useBench();
  const { view, refusal } = bench.ready;
  const queries = useQueryClient();
  const [revise, setRevise] = useState(view.variant !== undefined);
  const [name, setName] = useState(view.variant?.name ?? '');
  const [words, setWords] = useState('');
  const [wrong, setWrong] = useState<string | null>(null);
  const submit = async (e: FormEvent): Promise<void> => {
    e.preventDefault();
    if (name.trim() === '' || words.trim() === '') {
      setWrong(
        name.trim() === '' ? 'Give it a name first.' : 'Say in a few words what it is for, or what has changed.',
      );
      return;
    }
    setWrong(null);
    if (
      await bench.driver.saveVariant({
        name: name.trim(),
        words: words.trim(),
        ...(revise && view.variant !== undefined ? { code: view.variant.code } : {}),
      })
    ) {
      await queries.invalidateQueries({ queryKey: ['variants'] });
      close();
    }
  };
  return (
    <Dialog title="Save as variant" close={close}>
      <form onSubmit={(e) => void submit(e)}>
        <p className="mb-3 text-quiet">
          Scope, changed limits and parameters of this run, for everybody to take. A revision never changes; saving
          again makes the next one.
        </p>
        {view.variant !== undefined ? (
          <fieldset className="mb-3 flex flex-col gap-1">
            <label className="flex min-h-9 items-center gap-2">
              <input type="radio" name="revise" checked={revise} onChange={() => setRevise(true)} /> Revision{' '}
              {view.variant.revision + 1} of {view.variant.name}
            </label>
            <label className="flex min-h-9 items-center gap-2">
              <input type="radio" name="revise" checked={!revise} onChange={() => setRevise(false)} /> A new variant
            </label>
          </fieldset>
        ) : null}
        <label className="block font-semibold" htmlFor="variant-name">
          Name
        </label>
        <input
          id="variant-name"
          autoFocus
          className="mt-1 w-full"
          maxLength={80}
          value={name}
          onChange={(e) => setName(e.target.value)}
        />
        <label className="mt-3 block font-semibold" htmlFor="variant-words">
          What for, or what has changed
        </label>
        <input
          id="variant-words"
          className="mt-1 w-full"
          maxLength={400}
          value={words}
          onChange={(e) => setWords(e.target.value)}
        />
        {wrong !== null || refusal !== null ? (
          <div className="mt-3">
            <Notice>{wrong ?? refusal?.message}</Notice>
          </div>
        ) : null}
        <div className="mt-4 flex gap-3">
          <Button weight="primary" type="submit">
            Save
          </Button>
          <Button onClick={close}>Cancel</Button>
        </div>
      </form>
    </Dialog>
  );
}
