/** What errors of the database mean. */

/** Whether another held the catalogue for longer than one waits. */
export function isBusy(error: unknown): boolean {
  return codeOf(error).startsWith('SQLITE_BUSY');
}

/** Whether the catalogue could not be written because its disk is full, failing or read-only. */
export function isOutOfRoom(error: unknown): boolean {
  return /^SQLITE_(FULL|IOERR|READONLY)/.test(codeOf(error));
}

function codeOf(error: unknown): string {
  const { code } = error as { code?: unknown };
  return typeof code === 'string' ? code : '';
}
