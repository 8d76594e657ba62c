/**
 * What tells one state of a file from another without reading it, as the file system has it (POSIX stat). Times are
 * nanoseconds since 1970 and inodes as decimal text: they do not fit a double.
 */
export interface FileIdentity {
  readonly sizeBytes: number;
  readonly modifiedNs: string;
  /** Time of the last change of content, name or rights; no program can set it. */
  readonly changedNs: string;
  /** Number of the file on its file system; for a sequence a digest over its frames. */
  readonly inode: string;
  /** Time the file came into being; "0" where the file system does not keep it. */
  readonly bornNs: string;
}

/** The same file, untouched: nothing was written to it, nor was another put in its place. */
export function isUntouched(a: FileIdentity, b: FileIdentity): boolean {
  return looksSame(a, b) && a.changedNs === b.changedNs && a.inode === b.inode;
}

/** Equal size and time of writing. A file that was only moved, restored or copied with its times looks the same. */
export function looksSame(a: FileIdentity, b: FileIdentity): boolean {
  return a.sizeBytes === b.sizeBytes && a.modifiedNs === b.modifiedNs;
}

/** The very file, whatever was written to it since: not another that was put in its place, equal or not. */
export function isSameObject(a: FileIdentity, b: FileIdentity): boolean {
  return a.inode === b.inode && a.bornNs === b.bornNs;
}

/** An identity as one short text, for lists of many frames. */
export function packIdentity(identity: FileIdentity): string {
  return [identity.sizeBytes, identity.modifiedNs, identity.changedNs, identity.inode, identity.bornNs].join(' ');
}

export function unpackIdentity(text: string): FileIdentity {
  const [size = '0', modifiedNs = '', changedNs = '', inode = '', bornNs = ''] = text.split(' ');
  return { sizeBytes: Number(size), modifiedNs, changedNs, inode, bornNs };
}
