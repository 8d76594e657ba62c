import { Table } from '@mantine/core';
import { readPrint } from '../../core/media/fingerprint';
import { tellingWords } from '../../core/planning/evidence/proof';
import { fileName, placeKey } from '../../core/media/item';
import type { ItemView } from '../../server/stock/views/item';
import { Bytes } from '../shared/figures';
import { PathText } from '../shared/PathText';
import { PlayButton } from '../shared/player/PlayButton';
import { codecWords, keyFrameRow, lengthWords, pictureWords, rateWords, startWords } from './item-words';

interface Props {
  readonly item: ItemView;
  readonly shelfName: string;
  readonly attached: boolean;
  readonly nameOf: (shelfId: string) => string;
}

/** Everything known of one item, with its picture, its copies and who reads it. */
export function ItemFacts({ item, shelfName, attached, nameOf }: Props) {
  const { facts } = item;
  const canPlay = attached && facts.kind !== 'still' && facts.kind !== 'other' && item.problem === null;
  const rows: [string, React.ReactNode][] = [
    ['Place', <PathText key="p" path={item.place.path} shelf={shelfName} />],
    ['Used by', item.readers.length === 0 ? 'no project' : <Lines key="u" lines={item.readers.map(({ project, clip }) => `${project}: ${clip}`)} />],
    [
      'Equal copies',
      item.copies.length === 0 ? 'none known' : item.copies.map((place) => <PathText key={placeKey(place)} path={place.path} shelf={nameOf(place.shelfId)} />), // prettier-ignore
    ],
    ['Codec', `${codecWords(facts)}${facts.video?.profile ? ` · ${facts.video.profile}` : ''} in ${facts.container.toUpperCase()}`],
    ...keyFrameRow(facts),
    ['Picture or sound', pictureWords(facts)],
    ['Colour', [facts.video?.colorPrimaries, facts.video?.colorTransfer].filter(Boolean).join(' · ') || 'not stated'],
    [
      'Sound',
      facts.audio.map((sound) => `${sound.channels} ch, ${sound.sampleRate} Hz${sound.bitDepth ? `, ${sound.bitDepth} bit` : ''}`).join('; ') ||
        'none',
    ],
    ['Rate', rateWords(facts)],
    [
      'Length',
      `${lengthWords(facts)}${facts.durationFrames !== null ? ` (${facts.durationFrames} ${facts.kind === 'audio' ? 'samples' : 'frames'}${facts.storedFrames ? ` shown of ${facts.storedFrames}: its edit list leaves out the others` : ''})` : ''}`,
    ],
    ['Start timecode', startWords(facts)],
    ['Reel', facts.reel ?? '–'],
    ['Size', <Bytes key="s" value={item.sizeBytes} />],
    [
      'Fingerprint',
      <span key="f" className="mono">
        {item.fingerprint
          ? `${(readPrint(item.fingerprint)?.hash ?? item.fingerprint).slice(0, 24)}… · ${tellingWords(item.fingerprint)}`
          : 'could not be read'}
      </span>,
    ],
    ...(item.sha256
      ? [
          [
            'SHA-256',
            <span key="c" className="mono">
              {item.sha256.slice(0, 24)}…
            </span>,
          ] as [string, React.ReactNode],
        ]
      : []),
  ];
  return (
    <>
      {item.damage !== undefined && <div className="note stops">Damaged. {item.damage} Look for another copy.</div>}
      {item.problem && item.damage === undefined && <div className="note stops">{item.problem} The file is listed and left alone.</div>}
      {facts.video && attached && (
        <img src={`/api/items/${item.id}/poster?frame=${Math.floor((facts.durationFrames ?? 1) / 2)}`} alt="" className="item-picture" />
      )}
      {canPlay && <PlayButton title={fileName(item.place.path)} item={{ itemId: item.id, label: facts.kind }} />}
      <Table mt={8} verticalSpacing={5}>
        <Table.Tbody>
          {rows.map(([label, value]) => (
            <Table.Tr key={label}>
              <Table.Td className="soft" w={130}>
                {label}
              </Table.Td>
              <Table.Td className="fact-value">{value}</Table.Td>
            </Table.Tr>
          ))}
        </Table.Tbody>
      </Table>
    </>
  );
}

function Lines({ lines }: { lines: readonly string[] }) {
  return (
    <>
      {lines.map((line) => (
        <div key={line}>{line}</div>
      ))}
    </>
  );
}
