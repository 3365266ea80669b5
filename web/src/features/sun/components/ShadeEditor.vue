<script setup lang="ts">
import type { Shade } from '@/shared/api/types'
import { hourOfDay, parseNumber } from '@/shared/units/format'
import { monthsText, parseMonths } from '../model'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'

/** When something stands before the panels: a stretch of the day, in some months. It takes the direct light. */
const props = defineProps<{ shade: Shade[] }>()
const emit = defineEmits<{ change: [Shade[]]; problem: [string] }>()

const put = (i: number, part: Partial<Shade>) =>
  emit(
    'change',
    props.shade.map((s, j) => (j === i ? { ...s, ...part } : s)),
  )
const add = () => emit('change', [...props.shade, { from_h: 15, to_h: 19, months: [], share: 1 }])
const drop = (i: number) =>
  emit(
    'change',
    props.shade.filter((_, j) => j !== i),
  )
function hour(text: string, i: number, key: 'from_h' | 'to_h') {
  const match = /^\s*(\d{1,2})(?::(\d{2}))?\s*(am|pm)?\s*$/i.exec(text)
  let h = match ? Number(match[1]) + Number(match[2] ?? 0) / 60 : NaN
  const half = match?.[3]?.toLowerCase()
  if (half) h = (h % 12) + (half === 'pm' ? 12 : 0)
  const now = props.shade[i]
  if (!now || !(h >= 0 && h <= 24)) emit('problem', `Shade: “${text}” isn’t a time. Write 3 pm or 15:00.`)
  else put(i, { [key]: h })
}
function months(text: string, i: number) {
  const found = text.trim() === 'all year' ? [] : parseMonths(text)
  if (found === null)
    emit('problem', `Shade: “${text}” isn’t a list of months. Write Oct-Mar, or 6, 7, or leave it empty.`)
  else put(i, { months: found })
}
function share(text: string, i: number) {
  const parsed = parseNumber(text)
  if (!parsed.ok || parsed.value < 0 || parsed.value > 100) emit('problem', 'Shade: enter 0 to 100% of the light.')
  else put(i, { share: parsed.value / 100 })
}
const clock = (h: number) => (h === 24 ? '24:00' : hourOfDay(h))
</script>

<template>
  <fieldset class="fields">
    <legend>Shade</legend>
    <div v-for="(s, i) in shade" :key="i" class="one">
      <KeptInput :value="clock(s.from_h)" :label="`Shade ${i + 1}: from`" @keep="hour($event, i, 'from_h')" />
      to
      <KeptInput :value="clock(s.to_h)" :label="`Shade ${i + 1}: to`" @keep="hour($event, i, 'to_h')" />
      <el-button class="link" :aria-label="`Shade ${i + 1}: remove`" @click="drop(i)">remove</el-button>
      <KeptInput :value="monthsText(s.months)" :label="`Shade ${i + 1}: months`" @keep="months($event, i)" />
      takes
      <KeptInput :value="Math.round(100 * s.share)" :label="`Shade ${i + 1}: percent`" @keep="share($event, i)" /> %
    </div>
    <el-button class="btn tiny" @click="add">
      {{ shade.length ? 'More shade' : 'Something shades it' }}
    </el-button>
  </fieldset>
</template>

<style scoped>
fieldset {
  display: grid;
  gap: 6px;
  margin: 0;
  padding: 0;
  border: 0;
}
legend {
  padding: 0;
  color: var(--soft);
  font-size: 13px;
}
.one {
  display: grid;
  grid-template-columns: 84px auto 70px auto;
  gap: 4px 7px;
  align-items: center;
  font-size: 13px;
}
.btn {
  justify-self: start;
}
</style>
