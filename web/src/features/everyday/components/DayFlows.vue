<script setup lang="ts">
import { LineChart } from 'echarts/charts'
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import type { EverydayView } from '@/shared/api/types'
import { theme } from '@/shared/theme'
import { hourOfDay, number, percent } from '@/shared/units/format'

use([LineChart, GridComponent, LegendComponent, TooltipComponent, SVGRenderer])

/** The mean day of a month: who gives what hangs on the station, stacked, and the charge over it. */
const props = defineProps<{ day: EverydayView['days'][number] }>()
const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim()
const option = computed(() => {
  void theme.value
  const text = { color: token('soft'), fontFamily: 'Atkinson Hyperlegible Next Variable', fontSize: 12 }
  const { day } = props
  const area = (name: string, values: number[], color: string, dash: number[] | 'solid') => ({
    name,
    type: 'line',
    stack: 'load',
    step: 'end',
    showSymbol: false,
    animation: false,
    lineStyle: { width: 1.5, color: token('ink'), type: dash },
    areaStyle: { color, opacity: 0.75 },
    itemStyle: { color },
    data: day.hour.map((h, i) => [h, values[i]]),
  })
  return {
    animation: false,
    textStyle: text,
    legend: { top: 0, textStyle: text, icon: 'rect' },
    grid: { left: 56, right: 48, top: 32, bottom: 28 },
    tooltip: {
      trigger: 'axis',
      backgroundColor: token('sheet'),
      borderColor: token('line'),
      textStyle: { ...text, color: token('ink') },
      formatter: (points: { seriesName: string; value: [number, number] }[]) =>
        [
          hourOfDay(points[0]?.value[0] ?? 0),
          ...points.map((p) =>
            p.seriesName === 'charge'
              ? `charge ${percent(p.value[1] / 100)}`
              : `${p.seriesName} ${number(p.value[1])} W`,
          ),
        ].join('<br/>'),
    },
    xAxis: {
      type: 'value',
      min: 0,
      max: 24,
      interval: 6,
      axisLabel: { ...text, formatter: (h: number) => hourOfDay(h % 24) },
      splitLine: { show: false },
    },
    yAxis: [
      {
        type: 'value',
        axisLabel: { ...text, formatter: '{value} W' },
        splitLine: { lineStyle: { color: token('line') } },
      },
      { type: 'value', min: 0, max: 100, axisLabel: { ...text, formatter: '{value}%' }, splitLine: { show: false } },
    ],
    series: [
      area('from the grid', day.grid, token('line-strong'), 'solid'),
      area('from the sun', day.sun, token('goal') || token('line'), 'solid'),
      area('from the battery', day.store, token('stored'), 'solid'),
      {
        name: 'charge',
        type: 'line',
        yAxisIndex: 1,
        showSymbol: false,
        animation: false,
        lineStyle: { width: 2.5, color: token('ink'), type: [6, 4] },
        itemStyle: { color: token('ink') },
        data: day.hour.map((h, i) => [h, 100 * (day.charge[i] ?? 0)]),
      },
    ],
  }
})
</script>

<template>
  <VChart
    class="chart"
    :option="option"
    autoresize
    role="img"
    aria-label="An average day: where the station’s loads get their power, and the charge"
  />
</template>

<style scoped>
.chart {
  height: 220px;
}
</style>
