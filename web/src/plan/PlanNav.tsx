import { NavLink } from 'react-router';

const PAGES = [
  ['/plan', 'Weeks'],
  ['/plan/plans', 'Plans'],
  ['/plan/needs', 'People and needs'],
  ['/plan/compliance', 'Due and done'],
] as const;

/** The pages of the plan. */
export function PlanNav() {
  return (
    <nav aria-label="Pages of the plan" className="flex flex-wrap gap-x-6 border-b border-rule">
      {PAGES.map(([to, word]) => (
        <NavLink key={to} to={to} end className={({ isActive }) => `inline-flex min-h-11 items-center border-b-[3px] font-semibold ${isActive ? 'border-lake text-lake' : 'border-transparent text-quiet'}`}>
          {word}
        </NavLink>
      ))}
    </nav>
  );
}
