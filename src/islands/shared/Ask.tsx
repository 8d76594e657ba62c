import type { Finding } from '../../core/words/finding';

/** Below a field: what is still to be chosen or typed in it, if that is all that keeps the plan from running. */
export function Ask({ plan, code }: { plan: { readonly findings: readonly Finding[] } | null; code: string }) {
  const asked = plan?.findings.find((finding) => finding.severity === 'asks' && finding.code === code);
  return asked ? <div className="ask">{asked.hint ?? asked.message}</div> : null;
}
