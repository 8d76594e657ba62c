/** The lists and the report of a crate, made of what its run has written (RFC 8493). */
import { createHash } from 'node:crypto';
import { BAG_DECLARATION, formatBagInfo, formatManifest, isPayload, payloadOxum } from '../../../core/manifest/bag';
import type { CrateLabel, CratePart } from '../../../core/planning/crate/crate-label';
import { aboutLines } from '../../../core/planning/crate/crate-about';
import { crateReport, type ReportFile } from '../../../core/planning/crate/crate-report';
import { formatRate } from '../../../core/time/rate';
import { formatBytes } from '../../../core/words/figures';
import { madeFiles } from '../../runs/made-files';
import type { StepContext } from '../../runs/step-context';
import type { TextMaker } from '../kind';

type CrateText = TextMaker<CrateLabel>;

const listed = ({ sha256, path }: ReportFile) => ({ checksum: sha256, path });

export const crateTexts: Record<CratePart, CrateText> = {
  'bag-declaration': () => BAG_DECLARATION,
  'bag-manifest': (root, _label, context) => formatManifest(filesBelow(root, context).filter(isPayload).map(listed)),
  'bag-tag-manifest': (root, _label, context) =>
    formatManifest([
      ...filesBelow(root, context)
        .filter((file) => !isPayload(file))
        .map(listed),
      // It comes last, but what it says is known.
      { checksum: createHash('sha256').update(BAG_DECLARATION).digest('hex'), path: 'bagit.txt' },
    ]),
  'crate-report': (root, label, context) => crateReport(label, filesBelow(root, context).filter(isPayload)),
  'bag-info': (root, label, context) => {
    const payload = filesBelow(root, context).filter(isPayload);
    return formatBagInfo([
      ['Bagging-Date', label.madeAt.slice(0, 10)],
      ['Bag-Software-Agent', 'Mill Shelf'],
      ['External-Identifier', label.crateName],
      ['External-Description', label.note || `Project ${label.projectName} with its used media`],
      ['Bag-Size', formatBytes(payload.reduce((sum, file) => sum + file.bytes, 0))],
      ['Payload-Oxum', payloadOxum(payload)],
      ...aboutLines(label.about ?? {}),
      ['Project-Name', label.projectName],
      ['Project-Rate', formatRate(label.rate)],
      ['Project-Drop-Frame', label.dropFrame ? 'yes' : 'no'],
    ]);
  },
};

function filesBelow(root: string, context: StepContext): ReportFile[] {
  const names = context.catalogue.shelves.names();
  return madeFiles(context.journal(), root, ({ shelfId, path }) => `${names.get(shelfId) ?? 'shelf'} / ${path}`);
}
