import type { EChartsCoreOption } from 'echarts/core';
import { useEffect, useRef } from 'react';
import { tellError } from './notices';

interface Props {
  /** Asked again when the colour scheme changes. */
  readonly option: () => EChartsCoreOption;
  readonly height: number;
  readonly label: string;
  /** Told what was clicked; what it does can be done without the chart too. */
  readonly onClick?: (data: unknown) => void;
}

export function Chart({ option, height, label, onClick }: Props) {
  const clicked = useRef(onClick);
  clicked.current = onClick;
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    let isGone = false;
    let leave = () => void (isGone = true);
    const begin = ({ init }: typeof import('./charting')) => {
      if (isGone) return;
      const chart = init(box.current, null, { renderer: 'svg' });
      const draw = () => chart.setOption(option(), true);
      draw();
      chart.on('click', ({ data }) => clicked.current?.(data));
      const resize = new ResizeObserver(() => chart.resize());
      resize.observe(box.current!);
      const scheme = new MutationObserver(draw);
      scheme.observe(document.documentElement, { attributeFilter: ['data-mantine-color-scheme'] });
      leave = () => {
        resize.disconnect();
        scheme.disconnect();
        chart.dispose();
      };
    };
    // The figures stand beside it in words: a chart that does not come is missed by nobody for long.
    import('./charting').then(begin, tellError);
    return () => leave();
  }, [option]);
  return <div ref={box} style={{ height }} role="img" aria-label={label} />;
}
