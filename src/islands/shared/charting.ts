/** What charts are drawn by: the largest thing the pages know, loaded when the first chart is there. */
import { BarChart, SankeyChart } from 'echarts/charts';
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components';
import { init, use as echartsUse } from 'echarts/core';
import { SVGRenderer } from 'echarts/renderers';

echartsUse([BarChart, SankeyChart, GridComponent, LegendComponent, TooltipComponent, SVGRenderer]);

export { init };
