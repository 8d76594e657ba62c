/** What is known of a format of timelines. A new one is a folder with one of these, and a line in the table (timeline-formats.ts). */
import type { SourceCount } from '../project/source-count';
import type { Rate } from '../time/rate';
import type { ColumnMap } from './clip-list/clip-list-types';
import type { OtioContent } from './otio/otio-reader';

/** What the reader of a file without a rate or with free columns is told. */
export interface ReadOptions {
  /** Columns of a table; guessed from its titles when left out. */
  readonly columns?: ColumnMap;
}

export interface TimelineFormat {
  /** As the catalogue and the interface have it. */
  readonly id: string;
  /** As people are told, and how they get such a file. */
  readonly title: string;
  readonly exportAs: string;
  /** Whether a text is one, by what stands in it, not by what its file is called. `beginning`: its first letters, without blanks. */
  readonly recognises: (text: string, beginning: string, options: ReadOptions) => boolean;
  /** Never throws. `projectRate` counts where the format states no rate. */
  readonly read: (text: string, projectRate: Rate, options: ReadOptions) => OtioContent;
  /** Whether it says at which rate it counts. */
  readonly statesRate: boolean;
  /** How source timecode is counted where nothing else is known. */
  readonly countAtFirst: SourceCount;
  /** Its columns are chosen by whoever brings it in. */
  readonly hasColumns: boolean;
}
