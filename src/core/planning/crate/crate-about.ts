/** Who a crate is for and what it is, as its maker says: in its bag-info, its report, and the list of crates. */
import Joi from 'joi';
import { dayForm } from '../../forms/atoms';

export interface CrateAbout {
  /** Of the project: "v3", "picture lock 2". */
  readonly version?: string;
  readonly sender?: string;
  readonly receiver?: string;
  readonly licence?: string;
  /** Last day of its use, as 2027-03-31. */
  readonly endsOn?: string;
  /** Name of the crate of this project that was made before. */
  readonly follows?: string;
}

const line = Joi.string()
  .trim()
  .max(200)
  .pattern(/^[^\p{Cc}]*$/u)
  .messages({ 'string.pattern.base': 'Type one line of text.', 'string.max': 'Type at most {#limit} letters.' });

export const aboutForm = Joi.object<CrateAbout>({ version: line, sender: line, receiver: line, licence: line, endsOn: dayForm });

/** Label and value of each, in the words of bag-info.txt (RFC 8493, section 2.2.2, leaves room for labels of one's own). */
export function aboutLines({ version, sender, receiver, licence, endsOn, follows }: CrateAbout): [string, string][] {
  const all: [string, string | undefined][] = [
    ['Project-Version', version],
    ['Source-Organization', sender],
    ['Receiver', receiver],
    ['Licence', licence],
    ['Use-Ends-On', endsOn],
    ['Follows-Crate', follows],
  ];
  return all.filter((entry): entry is [string, string] => entry[1] !== undefined && entry[1].trim() !== '');
}
