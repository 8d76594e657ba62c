import { useState } from 'react';

/** A frame of an item; words stand in its place when it cannot be shown. */
export function Poster({ itemId, frame }: { itemId: string; frame: number }) {
  const src = `/api/items/${itemId}/poster?frame=${Math.max(0, frame)}`;
  const [broken, setBroken] = useState<string | null>(null);
  if (broken === src) return <div className="poster soft centred">This frame cannot be shown</div>;
  return <img className="poster" alt="" src={src} onError={() => setBroken(src)} />;
}
