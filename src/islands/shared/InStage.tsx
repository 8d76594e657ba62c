import { createContext, useContext, useLayoutEffect, type ReactNode } from 'react';
import { createPortal } from 'react-dom';

export interface SheetPlace {
  /** Where the plan sheet stands; null until it does. */
  readonly element: HTMLElement | null;
  /** What the sheet is asked for; null where there is none. */
  readonly setAsks: (asks: string | null) => void;
}

export const SheetContext = createContext<SheetPlace>({ element: null, setAsks: () => undefined });

interface Props {
  /** The plan sheet; null where a view has none. */
  readonly sheet: ReactNode | null;
  /** What the sheet is asked for; where it is folded and another is asked for, it opens. */
  readonly asks?: string;
  readonly children: ReactNode;
}

/** What a stage puts into the frame: itself and its sheet. */
export function InStage({ sheet, asks = '', children }: Props) {
  const { element, setAsks } = useContext(SheetContext);
  const hasSheet = sheet !== null;
  useLayoutEffect(() => {
    setAsks(hasSheet ? asks : null);
    return () => setAsks(null);
  }, [hasSheet, asks, setAsks]);
  return (
    <>
      {children}
      {hasSheet && element && createPortal(sheet, element)}
    </>
  );
}
