import { Link } from 'react-router';
import { Button, Notice } from '../ui/controls';

export function Waiting() {
  return <p className="text-quiet">Looking it up…</p>;
}

export function Failed({ problem, again }: { problem: Error; again: () => void }) {
  return <Notice action={<Button onClick={again}>Try again</Button>}>{problem.message}</Notice>;
}

export function BackToRegister() {
  return (
    <p>
      <Link
        className="inline-flex min-h-9 items-center font-semibold text-lake underline-offset-4 hover:underline max-[1000px]:min-h-11"
        to="/register"
      >
        Back to the register
      </Link>
    </p>
  );
}
