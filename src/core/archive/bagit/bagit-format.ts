/** BagIt (RFC 8493) as a format of archives. */
import { formatBytes } from '../../words/figures';
import type { ArchiveAbout, ArchivedFile, ArchiveFormat } from '../archive-format';
import { BAG_DECLARATION, formatBagInfo, formatManifest, isPayload, payloadOxum, readBagInfo, readManifest } from './bag';

const MARK = 'bagit.txt';
const MANIFEST = 'manifest-sha256.txt';
const INFO = 'bag-info.txt';
const TAG_LIST = 'tagmanifest-sha256.txt';

const listed = ({ sha256, path }: ArchivedFile) => ({ checksum: sha256, path });

function infoText(files: readonly ArchivedFile[], about: ArchiveAbout): string {
  const payload = files.filter(isPayload);
  return formatBagInfo([
    ['Bagging-Date', about.madeAt],
    ['Bag-Software-Agent', 'Mill Shelf'],
    ['External-Identifier', about.name],
    ['External-Description', about.description],
    ['Bag-Size', formatBytes(payload.reduce((sum, file) => sum + file.bytes, 0))],
    ['Payload-Oxum', payloadOxum(payload)],
    ...about.more,
    ['Project-Name', about.projectName],
    ['Project-Rate', about.rate],
    ['Project-Drop-Frame', about.dropFrame ? 'yes' : 'no'],
  ]);
}

export const bagitFormat: ArchiveFormat = {
  id: 'bagit',
  title: 'BagIt, SHA\u2011256',
  mark: MARK,
  manifest: MANIFEST,
  tagList: TAG_LIST,
  payloadFolder: 'data',
  isPayload,
  lists: [
    {
      what: 'bag-manifest',
      path: MANIFEST,
      phase: 0,
      reason: 'a checksum of every file',
      listsFiles: true,
      text: (files) => formatManifest(files.filter(isPayload).map(listed)),
    },
    { what: 'bag-info', path: INFO, phase: 0, reason: 'where it comes from, how large it is', listsFiles: false, text: infoText },
    {
      what: 'bag-tag-manifest',
      path: TAG_LIST,
      phase: 1,
      reason: 'checksums of the lists themselves',
      listsFiles: false,
      // The declaration comes last, but what it says is known.
      text: (files, _about, sha256Of) =>
        formatManifest([...files.filter((file) => !isPayload(file)).map(listed), { checksum: sha256Of(BAG_DECLARATION), path: MARK }]),
    },
    // Last of all files: no tool takes for whole what is not.
    { what: 'bag-declaration', path: MARK, phase: 2, reason: 'says that this is a bag, and whole', listsFiles: false, text: () => BAG_DECLARATION },
  ],
  async read(textOf) {
    const info = readBagInfo((await textOf(INFO)) ?? '');
    const manifest = readManifest((await textOf(MANIFEST)) ?? '');
    const tags = await textOf(TAG_LIST);
    const oxum = /^(\d+)\.(\d+)$/.exec(info.get('Payload-Oxum') ?? '');
    const said = {
      name: info.get('External-Identifier'),
      projectName: info.get('Project-Name'),
      rate: info.get('Project-Rate'),
      dropFrame: info.get('Project-Drop-Frame') === 'yes',
    };
    return {
      ...manifest,
      tags: tags === null ? null : readManifest(tags).entries,
      about: Object.fromEntries(Object.entries(said).filter(([, value]) => value !== undefined)),
      payload: oxum ? { bytes: Number(oxum[1]), files: Number(oxum[2]) } : null,
    };
  },
};
