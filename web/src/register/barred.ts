import { useQuery } from '@tanstack/react-query';
import { barred } from '../api/register';
import type { Barred } from '../api/types';

const NONE: readonly Barred[] = [];

/** Everything that must not be used, as every page knows it. */
export function useAllBarred(): readonly Barred[] {
  return (
    useQuery({ queryKey: ['register', 'barred'], queryFn: barred, staleTime: 20_000, refetchInterval: 30_000 }).data ??
    NONE
  );
}

/** Why an asset must not be used; null while it may, or while that is not known yet. */
export function useBarred(asset: string | undefined): Barred | null {
  return useAllBarred().find((b) => b.asset === asset) ?? null;
}
