/** Known by a registered symbol: the pages are bundled apart from the entry, so a class would exist twice. */
const IS_READY = Symbol.for('mill-shelf.ready-json');

/** An answer that is JSON text already, of this: it is sent as it is. */
export interface ReadyJson<T = unknown> {
  readonly json: string;
  readonly [IS_READY]: true;
  /** Only said, never there. */
  readonly of?: T;
}

export function readyJson<T>(json: string): ReadyJson<T> {
  return { json, [IS_READY]: true };
}

export function isReadyJson(value: unknown): value is ReadyJson {
  return typeof value === 'object' && value !== null && IS_READY in value;
}
