/** Bytes of a timeline or list as text: UTF-8, UTF-16 by its mark, else the Windows code page that old lists are in. */
import { notes, type Finding } from '../../core/words/finding';

export function decodeText(bytes: Uint8Array): { text: string; findings: Finding[] } {
  if (bytes[0] === 0xff && bytes[1] === 0xfe) return { text: new TextDecoder('utf-16le').decode(bytes), findings: [] };
  if (bytes[0] === 0xfe && bytes[1] === 0xff) return { text: new TextDecoder('utf-16be').decode(bytes), findings: [] };
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), findings: [] };
  } catch {
    const finding = notes('text-encoding', 'The file is not UTF-8; it was read as Windows-1252, the code page of many older lists.');
    return { text: new TextDecoder('windows-1252').decode(bytes), findings: [finding] };
  }
}
