import { NavLink } from 'react-router';

/** The pages of one part of the program, side by side. */
export function PageNav({ label, pages }: { label: string; pages: readonly (readonly [string, string])[] }) {
  return (
    <nav aria-label={label} className="flex flex-wrap gap-x-6 border-b border-rule">
      {pages.map(([to, word]) => (
        <NavLink
          key={to}
          to={to}
          end
          className={({ isActive }) =>
            `inline-flex min-h-11 items-center border-b-[3px] font-semibold ${isActive ? 'border-lake text-lake' : 'border-transparent text-quiet'}`
          }
        >
          {word}
        </NavLink>
      ))}
    </nav>
  );
}
