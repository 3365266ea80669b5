<script setup lang="ts">
import { BarChart } from 'echarts/charts'
import { GridComponent, LegendComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import type { EverydayView } from '@/shared/api/types'
import { theme } from '@/shared/theme'
import { number } from '@/shared/units/format'

use([BarChart, GridComponent, LegendComponent, TooltipComponent, SVGRenderer])

/** The months side by side: what hangs on the station, what is bought for it, and the sun that came and that found no use. */
const props = defineProps<{ months: EverydayView['months'] }>()
const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim()
const SHORT = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec']
const option = computed(() => {
  void theme.value
  const text = { color: token('soft'), fontFamily: 'Atkinson Hyperlegible Next Variable', fontSize: 12 }
  const bar = (name: string, values: number[], color: string, border: string) => ({
    name,
    type: 'bar',
    animation: false,
    itemStyle: { color, borderColor: border, borderWidth: 1 },
    data: values,
  })
  const of = (key: 'fed' | 'bought' | 'sun' | 'thrown') => props.months.map((m) => m[key])
  const ink = token('ink')
  return {
    animation: false,
    textStyle: text,
    legend: { top: 0, textStyle: text },
    grid: { left: 62, right: 12, top: 30, bottom: 24 },
    tooltip: {
      trigger: 'axis',
      backgroundColor: token('sheet'),
      borderColor: token('line'),
      textStyle: { ...text, color: ink },
      valueFormatter: (v: number) => `${number(v)} kWh`,
    },
    xAxis: { type: 'category', data: SHORT, axisLabel: text },
    yAxis: {
      type: 'value',
      axisLabel: { ...text, formatter: '{value} kWh' },
      splitLine: { lineStyle: { color: token('line') } },
    },
    series: [
      bar('on the station', of('fed'), token('stored'), ink),
      bar('bought for it', of('bought'), token('line-strong'), ink),
      bar('sun', of('sun'), token('goal') || token('line'), ink),
      bar('sun not used', of('thrown'), 'transparent', ink),
    ],
  }
})
</script>

<template>
  <VChart class="chart" :option="option" autoresize role="img" aria-label="The months side by side, kWh" />
</template>

<style scoped>
.chart {
  height: 190px;
}
</style>
