<script setup lang="ts">
import { LineChart, ScatterChart } from 'echarts/charts'
import { GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import type { FrontierView } from '@/shared/api/types'
import { theme } from '@/shared/theme'
import { hoursText, money, number } from '@/shared/units/format'

use([LineChart, ScatterChart, GridComponent, MarkLineComponent, TooltipComponent, SVGRenderer])

/** Money against hours, 9 in 10: the stair of what nothing beats, some of what is beaten, goal and budget. */
const props = defineProps<{ view: FrontierView; budget: number | null }>()
const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim()
const point = (b: FrontierView['best'][number]) => ({
  name: b.name,
  value: [Number(b.price), b.low_h ?? props.view.horizon_h],
})
const option = computed(() => {
  void theme.value // the colours are read again when the theme turns
  const { view } = props
  const text = { color: token('soft'), fontFamily: 'Atkinson Hyperlegible Next Variable', fontSize: 12 }
  const line = (value: object, label: string) => ({
    ...value,
    label: { ...text, formatter: label, position: 'insideEndTop' },
  })
  return {
    animation: false,
    textStyle: text,
    grid: { left: 44, right: 14, top: 14, bottom: 40 },
    tooltip: {
      backgroundColor: token('sheet'),
      borderColor: token('line'),
      textStyle: { ...text, color: token('ink') },
      formatter: (p: { name: string; value: [number, number] }) =>
        `${p.name}<br/>${money(p.value[0], view.currency)}, ${hoursText(p.value[1])}`,
    },
    xAxis: {
      type: 'value',
      name: view.currency,
      nameLocation: 'middle',
      nameGap: 24,
      scale: true,
      axisLabel: { ...text, formatter: (v: number) => number(v) },
      splitLine: { show: false },
    },
    yAxis: {
      type: 'value',
      min: 0,
      max: Math.ceil(view.horizon_h / 12) * 12,
      interval: view.horizon_h > 60 ? 24 : 12,
      axisLabel: { ...text, formatter: (v: number) => `${v} h` },
      splitLine: { lineStyle: { color: token('line') } },
    },
    series: [
      {
        type: 'line',
        step: 'end',
        data: view.best.map(point),
        symbol: 'circle',
        symbolSize: 9,
        lineStyle: { color: token('stored'), width: 2 },
        itemStyle: { color: token('stored') },
        markLine: {
          silent: true,
          symbol: 'none',
          lineStyle: { color: token('ink'), type: 'dashed' },
          data: [
            line({ yAxis: view.goal_h }, `goal ${hoursText(view.goal_h)}`),
            ...(props.budget === null ? [] : [line({ xAxis: props.budget }, 'budget')]),
          ],
        },
      },
      {
        type: 'scatter',
        data: view.beaten.map(point),
        symbol: 'diamond',
        symbolSize: 8,
        itemStyle: { color: token('sheet'), borderColor: token('soft'), borderWidth: 1.3 },
      },
    ],
  }
})
</script>

<template>
  <figure role="img" :aria-label="`Money against hours: ${view.best.length} ways that nothing beats`">
    <VChart class="chart" :option="option" autoresize />
    <figcaption class="soft small">Hours to count on, by price. Hollow: beaten by another one.</figcaption>
  </figure>
</template>

<style scoped>
figure {
  margin: 0;
}
.chart {
  height: 262px;
}
</style>
