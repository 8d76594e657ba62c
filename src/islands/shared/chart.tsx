import { BarChart } from 'echarts/charts';
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components';
import { init, use, type EChartsCoreOption } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';
import { useEffect, useRef } from 'react';

use([BarChart, GridComponent, LegendComponent, TooltipComponent, SVGRenderer]);

/** A value of tokens.css as it is in the scheme in force. */
export function token(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(name).trim();
}

/** `option` is asked again when the colour scheme changes. */
export function Chart({ option, height, label }: { option: () => EChartsCoreOption; height: number; label: string }) {
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const chart = init(box.current, null, { renderer: 'svg' });
    const draw = () => chart.setOption(option(), true);
    draw();
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
