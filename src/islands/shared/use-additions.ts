/** Name rules of a project as they were chosen last; undefined: the usual ones. */
import { useRemembered } from './use-remembered';

interface NameRules {
  readonly additions: readonly string[] | null;
}

export function useAdditions(projectId: string): [readonly string[] | undefined, (rules: readonly string[] | undefined) => void] {
  const [rules, keep] = useRemembered<NameRules>(projectId, 'name rules', () => ({ additions: null }));
  return [rules?.additions ?? undefined, (additions) => keep({ additions: additions ?? null })];
}
