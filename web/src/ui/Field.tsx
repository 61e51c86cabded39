import { useId, type ReactNode } from 'react';

interface Props {
  label: string;
  /** What is wrong with it, and what to do. */
  wrong?: string | undefined;
  hint?: string | undefined;
  required?: boolean;
  children: (own: { id: string; 'aria-invalid': boolean; 'aria-describedby': string | undefined }) => ReactNode;
}

/** A field with its label over it and what is wrong with it beneath. */
export function Field({ label, wrong, hint, required = false, children }: Props) {
  const id = useId();
  const described = wrong !== undefined || hint !== undefined ? `${id}-words` : undefined;
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="block text-[14px] font-semibold">
        {label}
        {required ? <span className="font-normal text-quiet">, needed</span> : null}
      </label>
      {children({ id, 'aria-invalid': wrong !== undefined, 'aria-describedby': described })}
      {wrong !== undefined ? (
        <p id={described} role="alert" className="mt-0.5 border-l-4 border-ink pl-2 text-[14px]" data-wrong>
          {wrong}
        </p>
      ) : hint !== undefined ? (
        <p id={described} className="mt-0.5 font-condensed text-[14px] text-quiet">
          {hint}
        </p>
      ) : null}
    </div>
  );
}
