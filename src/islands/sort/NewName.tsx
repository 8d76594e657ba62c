/** The name something gets; what is another than before is marked. */
export function NewName({ before, after }: { before: string; after: string }) {
  if (before === after) return <span className="mono">{after}</span>;
  const [from, to] = changedPart(before, after);
  return (
    <span className="mono" title={`${before}\nbecomes ${after}`}>
      {after.slice(0, from)}
      <mark>{after.slice(from, to) || '\u200b'}</mark>
      {after.slice(to)}
    </span>
  );
}

/** Where in `after` the part begins and ends that differs from `before`. */
export function changedPart(before: string, after: string): [number, number] {
  let from = 0;
  while (from < before.length && from < after.length && before[from] === after[from]) from++;
  let back = 0;
  while (back < before.length - from && back < after.length - from && before[before.length - 1 - back] === after[after.length - 1 - back]) back++;
  return [from, after.length - back];
}
