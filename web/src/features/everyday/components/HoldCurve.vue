<script setup lang="ts">
import { LineChart, ScatterChart } from 'echarts/charts'
import { GridComponent, MarkLineComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import type { CurveView } from '@/shared/api/types'
import { theme } from '@/shared/theme'
import { money, percent } from '@/shared/units/format'

use([LineChart, ScatterChart, GridComponent, MarkLineComponent, TooltipComponent, SVGRenderer])

/** Saving against readiness, by the hold: one curve, and where the hold is now. */
const props = defineProps<{ curve: CurveView; hold: number; currency: string }>()
const token = (name: string) => getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim()
const option = computed(() => {
  void theme.value
  const text = { color: token('soft'), fontFamily: 'Atkinson Hyperlegible Next Variable', fontSize: 12 }
  const saves = props.curve.points.some((p) => p.saving != null)
  const line = (name: string, values: (number | null)[], axis: number, color: string, dash: 'solid' | number[]) => ({
    name,
    type: 'line',
    yAxisIndex: axis,
    showSymbol: false,
    animation: false,
    lineStyle: { width: 2.5, color, type: dash },
    itemStyle: { color },
    data: props.curve.points.map((p, i) => [100 * p.hold, values[i]]),
  })
  return {
    animation: false,
    textStyle: text,
    grid: { left: 60, right: 66, top: 26, bottom: 40 },
    tooltip: {
      trigger: 'axis',
      backgroundColor: token('sheet'),
      borderColor: token('line'),
      textStyle: { ...text, color: token('ink') },
      formatter: (points: { seriesName: string; value: [number, number] }[]) =>
        [
          `keep ${percent((points[0]?.value[0] ?? 0) / 100)}`,
          ...points.map((p) =>
            p.seriesName === 'saving'
              ? `saves ${money(p.value[1], props.currency)}`
              : `ready ${percent(p.value[1] / 100)}`,
          ),
        ].join('<br/>'),
    },
    xAxis: {
      type: 'value',
      min: 0,
      max: 100,
      name: 'kept for outages (%)',
      nameLocation: 'middle',
      nameGap: 26,
      axisLabel: text,
      splitLine: { show: false },
    },
    yAxis: [
      {
        type: 'value',
        min: 0,
        max: 100,
        name: 'ready (%)',
        nameTextStyle: text,
        axisLabel: text,
        splitLine: { lineStyle: { color: token('line') } },
      },
      {
        type: 'value',
        name: saves ? `saves per year (${props.currency})` : '',
        nameTextStyle: text,
        axisLabel: text,
        splitLine: { show: false },
      },
    ],
    series: [
      {
        ...line(
          'ready',
          props.curve.points.map((p) => 100 * p.chance),
          0,
          token('stored'),
          'solid',
        ),
        markLine: {
          silent: true,
          symbol: 'none',
          lineStyle: { color: token('ink'), width: 2 },
          label: { ...text, color: token('ink'), formatter: (m: { name: string }) => m.name },
          data: [
            { name: 'now', xAxis: 100 * props.hold },
            ...(props.curve.asked == null
              ? []
              : [
                  {
                    name: 'outages lasting the goal',
                    xAxis: 100 * props.curve.asked,
                    lineStyle: { type: [3, 3] },
                    label: { position: 'insideEndTop' },
                  },
                ]),
          ],
        },
      },
      ...(saves
        ? [
            line(
              'saving',
              props.curve.points.map((p) => p.saving),
              1,
              token('ink'),
              [6, 4],
            ),
          ]
        : []),
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
    aria-label="Savings and readiness by the share kept for outages"
  />
</template>

<style scoped>
.chart {
  height: 220px;
}
</style>
