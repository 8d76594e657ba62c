/**
 * What file systems do not hold of a file beside its bytes, by the type that Linux calls them. Sources: the FAT32 File System
 * Specification (times of writing in steps of two seconds), the exFAT specification (steps of 10 ms), and their drivers'
 * documentation in the Linux kernel (owners and permissions are those of the mount); common practice for the others.
 */
const NOT_HELD: ReadonlyMap<string, string> = new Map([
  ['vfat', 'permissions, owners and extended attributes are not kept there, and times in steps of two seconds'],
  ['msdos', 'permissions, owners and extended attributes are not kept there, and times in steps of two seconds'],
  ['exfat', 'permissions, owners and extended attributes are not kept there, and times in steps of 10 milliseconds'],
  ['ntfs', 'permissions and owners are not kept there'],
  ['ntfs3', 'permissions and owners are not kept there'],
  ['fuseblk', 'permissions and owners may not be kept there'],
  ['cifs', 'permissions, owners and extended attributes may not be kept there'],
  ['smb3', 'permissions, owners and extended attributes may not be kept there'],
  ['nfs', 'extended attributes may not be kept there'],
  ['nfs4', 'extended attributes may not be kept there'],
  ['hfsplus', 'times are kept there in whole seconds'],
]);

/** In words; null where nothing is known to be lost. */
export function notHeldBy(fileSystem: string): string | null {
  return NOT_HELD.get(fileSystem.toLowerCase()) ?? null;
}
