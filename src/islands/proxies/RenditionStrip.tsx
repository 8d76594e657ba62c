import type { ProxyRow } from '../../core/planning/proxies/proxies';
import { RENDITION_KINDS } from '../../core/rendition/read-order';
import { Bytes, plural } from '../shared/figures';
import { dayOf } from '../shared/dates';
import { PathText } from '../shared/PathText';
import { StateSign } from '../shared/StateSign';
import { marksOf } from './proxy-columns';

/** The files of a clip's renditions, ready to be copied, with who made them and what does not fit. */
export function RenditionStrip({ row, shelfName }: { row: ProxyRow; shelfName: (id: string) => string }) {
  return (
    <section className="panel rendition-strip" aria-label={`Renditions of ${row.name}`}>
      {RENDITION_KINDS.map((kind) => {
        const cell = row.cells[kind];
        if (!cell) return null;
        const words = [cell.preset ?? '', cell.madeAt ? `made ${dayOf(cell.madeAt)}` : '', ...marksOf(cell), cell.more > 0 ? `${plural(cell.more, 'older one')}` : '']; // prettier-ignore
        return (
          <div key={kind} className="line">
            <span className="kind">{kind}</span>
            <StateSign state={cell.state} />
            {cell.place ? <PathText path={cell.place.path} shelf={shelfName(cell.place.shelfId)} /> : <span className="soft">no file is known</span>}
            <span className="soft">{words.filter((word) => word !== '').join(' · ')}</span>
            <Bytes value={cell.bytes} />
          </div>
        );
      })}
    </section>
  );
}
