<script setup lang="ts">
import { LineChart } from 'echarts/charts'
import { GridComponent, MarkAreaComponent, MarkLineComponent, TooltipComponent } from 'echarts/components'
import { use } from 'echarts/core'
import { SVGRenderer } from 'echarts/renderers'
import { useWindowSize } from '@vueuse/core'
import { computed } from 'vue'
import VChart from 'vue-echarts'
import type { Run } from '@/shared/api/types'
import { theme } from '@/shared/theme'
import { hoursText, kwh, percent, watts } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import { LEFT, RIGHT } from '../axis'

use([LineChart, GridComponent, MarkAreaComponent, MarkLineComponent, TooltipComponent, SVGRenderer])

/** Stored energy over the outage, with its band, the nights, the floor and the dark. */
const props = defineProps<{ run: Run }>()
const { width } = useWindowSize()
const narrow = computed(() => width.value < 760)

function token(name: string): string {
  return getComputedStyle(document.documentElement).getPropertyValue(`--${name}`).trim()
}

const option = computed(() => {
  void theme.value // the colours are read again when the theme turns
  const { run } = props
  const ink = token('ink')
  const soft = token('soft')
  const stored = token('stored')
  const dark = token('dark')
  const text = { color: soft, fontFamily: 'Atkinson Hyperlegible Next Variable', fontSize: 12 }
  const pair = (values: number[]) => run.hour.map((h, i) => [h, 100 * (values[i] ?? 0)])
  const between = run.hour.map((h, i) => [h, 100 * ((run.high[i] ?? 0) - (run.low[i] ?? 0))])
  const line = { type: 'line', showSymbol: false, animation: false }
  return {
    animation: false,
    textStyle: text,
    grid: { left: narrow.value ? 48 : LEFT, right: RIGHT, top: 30, bottom: 26, outerBoundsMode: 'none' },
    tooltip: {
      trigger: 'axis',
      backgroundColor: token('sheet'),
      borderColor: token('line'),
      textStyle: { ...text, color: ink },
      formatter: (points: { axisValue: number; seriesIndex: number; value: [number, number] }[]) => {
        const at = points[0]?.axisValue ?? 0
        const mid = points.find((p) => p.seriesIndex === 2)?.value[1] ?? 0
        const sun = points.find((p) => p.seriesIndex === 3)?.value[1]
        const light = sun === undefined ? '' : `<br/>sun ${watts(sun)}`
        return `after ${hoursText(at)}<br/>${percent(mid / 100)}, ${kwh((run.nominal_wh * mid) / 100)} on the label${light}`
      },
    },
    xAxis: {
      type: 'value',
      min: 0,
      max: run.shown_h,
      axisLabel: {
        ...text,
        showMinLabel: true,
        customValues: run.ticks.map((t) => t.h),
        formatter: (h: number) => run.ticks.find((t) => Math.abs(t.h - h) < 0.01)?.label ?? '',
        hideOverlap: true,
      },
      axisTick: { customValues: run.ticks.map((t) => t.h) },
      splitLine: { show: false },
      axisLine: { lineStyle: { color: token('line-strong') } },
    },
    yAxis: [
      {
        type: 'value',
        min: 0,
        max: 100,
        interval: 25,
        axisLabel: { ...text, formatter: (v: number) => `${v}%` },
        splitLine: { lineStyle: { color: token('line') } },
      },
      // The sun keeps to the lower third, so that the charge stays the picture; its watts are told on pointing.
      { type: 'value', min: 0, max: 3 * Math.max(...run.sun, 1), show: false },
    ],
    series: [
      { ...line, data: pair(run.low), lineStyle: { opacity: 0 }, stack: 'band', areaStyle: { opacity: 0 } },
      { ...line, data: between, lineStyle: { opacity: 0 }, stack: 'band', areaStyle: { color: stored, opacity: 0.28 } },
      {
        ...line,
        data: pair(run.charge),
        lineStyle: { color: stored, width: 3 },
        areaStyle: { color: token('wash'), opacity: 0.55 },
        z: 3,
        markArea: {
          silent: true,
          itemStyle: { color: token('night'), opacity: 0.9 },
          data: run.nights.map((n) => [{ xAxis: n.from_h }, { xAxis: n.to_h }]),
          z: -1,
        },
        markLine: {
          silent: true,
          symbol: 'none',
          data: [
            {
              yAxis: 100 * run.floor,
              lineStyle: { color: dark, type: 'dashed', width: 1.5 },
              label: { ...text, color: dark, formatter: `stop level ${percent(run.floor)}`, position: 'insideEndTop' },
            },
            ...(run.dark_h === null
              ? []
              : [
                  {
                    xAxis: run.dark_h,
                    lineStyle: { color: dark, type: 'solid', width: 2 },
                    label: {
                      // Beside the right edge it stands left of its line, whole.
                      align: run.dark_h > 0.85 * run.shown_h ? 'right' : 'center',
                      formatter: `runs out ${run.dark_label}`,
                      color: theme.value === 'lamp' ? '#0d2228' : '#fff',
                      backgroundColor: dark,
                      padding: [4, 9],
                      borderRadius: 4,
                      fontFamily: text.fontFamily,
                      fontSize: 13,
                    },
                  },
                ]),
          ],
        },
      },
      ...(run.sun.length
        ? [
            {
              ...line,
              data: run.hour.map((h, i) => [h, run.sun[i] ?? 0]),
              yAxisIndex: 1,
              step: 'end',
              lineStyle: { color: token('ink'), width: 0.8 },
              areaStyle: { color: token('sun'), opacity: 0.75 },
              z: 4,
            },
          ]
        : []),
    ],
  }
})
const spoken = computed(() => {
  const end = props.run.dark_label ? `runs out ${props.run.dark_label}` : 'never runs out'
  return `Stored energy over ${hoursText(props.run.shown_h)}: starts at ${percent(props.run.charge[0] ?? 0)}, ${end}.`
})
</script>

<template>
  <div class="sheet" role="img" :aria-label="spoken">
    <p v-if="Math.max(0, ...run.sun) > 0" class="soft small">
      Yellow: sun, at most <Fig :text="watts(Math.max(...run.sun))" />.
    </p>
    <VChart class="chart" :option="option" autoresize />
  </div>
</template>

<style scoped>
.sheet {
  border: 1px solid var(--line);
  position: relative;
  border-radius: 10px;
  background: var(--sheet);
}
p {
  position: absolute;
  top: 5px;
  left: 14px;
  margin: 0;
}
.chart {
  height: 232px;
}
</style>
