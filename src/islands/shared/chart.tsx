import { BarChart, SankeyChart } from 'echarts/charts';
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components';
import { init, use, type EChartsCoreOption } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { useEffect, useRef } from 'react';

use([BarChart, SankeyChart, GridComponent, LegendComponent, TooltipComponent, SVGRenderer]);

/** A value of tokens.css as it is in the scheme in force. */
export function token(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
}

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
    const chart = init(box.current, null, { renderer: 'svg' });
    const draw = () => chart.setOption(option(), true);
    draw();
    chart.on('click', ({ data }) => clicked.current?.(data));
    const resize = new ResizeObserver(() => chart.resize());
    resize.observe(box.current!);
    const scheme = new MutationObserver(draw);
    scheme.observe(document.documentElement, { attributeFilter: ['data-mantine-color-scheme'] });
    return () => {
      resize.disconnect();
      scheme.disconnect();
      chart.dispose();
    };
  }, [option]);
  return <div ref={box} style={{ height }} role="img" aria-label={label} />;
}
