/** What a reader, a check or a plan has to tell the user. */

import type { CodeOf, FindingCode, Severity } from './finding-codes';

/** Why something cannot be done as it stands: what, and what to do. */
export interface Hindrance<C extends FindingCode = CodeOf<'stops' | 'asks'>> {
  readonly code: C;
  readonly message: string;
  readonly hint: string;
}

export interface Finding {
  /** `stops`: it cannot be done; `asks`: something is still to be chosen; `warns`: read before you go on; `notes`: good to know. */
  readonly severity: Severity;
  readonly code: FindingCode;
  /** One sentence: what is so. */
  readonly message: string;
  /** What it concerns: a line, a JSON path, a file, a clip. */
  readonly where?: string;
  /** What the user can do about it. */
  readonly hint?: string;
}

export function stops(code: CodeOf<'stops'>, message: string, hint?: string, where?: string): Finding {
  return compact({ severity: 'stops', code, message, hint, where });
}

export function asks(code: CodeOf<'asks'>, message: string, hint?: string, where?: string): Finding {
  return compact({ severity: 'asks', code, message, hint, where });
}

export function warns(code: CodeOf<'warns'>, message: string, hint?: string, where?: string): Finding {
  return compact({ severity: 'warns', code, message, hint, where });
}

export function notes(code: CodeOf<'notes'>, message: string, hint?: string, where?: string): Finding {
  return compact({ severity: 'notes', code, message, hint, where });
}

function compact(finding: { [K in keyof Finding]: Finding[K] | undefined }): Finding {
  return Object.fromEntries(Object.entries(finding).filter(([, value]) => value !== undefined)) as unknown as Finding;
}
