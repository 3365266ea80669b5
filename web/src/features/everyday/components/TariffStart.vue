<script setup lang="ts">
import { reactive, ref } from 'vue'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { edit, useSession } from '@/shared/session/session'
import { hourOfDay, parseNumber } from '@/shared/units/format'
import Choice from '@/shared/ui/fields/Choice.vue'
import { tariffOf, type Shape } from '../tariffShapes'

/** A tariff from a bill: its shape first, then only the prices that such a bill shows. */
defineProps<{ currency: string }>()
const emit = defineEmits<{ added: [] }>()
const { home } = useSession()
const SHAPES: Record<Shape, string> = {
  one: 'One price',
  night: 'Day and night',
  peak: 'Peak hours',
  tiers: 'Higher price above a kWh limit',
}
const shape = ref<Shape>('one')
const said = reactive({ name: '', price: '', other: '', above: '', fixed: '', from: 17, to: 21, days: 'weekday' })
const wrong = ref('')
const HALVES = Array.from({ length: 48 }, (_, i) => i / 2)
function choose(to: Shape) {
  shape.value = to
  const hours = to === 'night' ? { from: 23, to: 6, days: 'all' } : { from: 17, to: 21, days: 'weekday' }
  Object.assign(said, hours)
}
function price(text: string, what: string): number | null {
  const read = parseNumber(text)
  if (read.ok) return read.value
  wrong.value = text.trim() ? `${what}: ${read.why}` : `${what}: enter it as on the bill, such as 0.31.`
  return null
}
function add() {
  wrong.value = ''
  const first = price(said.price, 'Price per kWh')
  const second = shape.value === 'one' || wrong.value ? 0 : price(said.other, 'Other price')
  const above = shape.value !== 'tiers' || wrong.value ? 0 : price(said.above, 'kWh per month')
  const fixed = said.fixed.trim() && !wrong.value ? price(said.fixed, 'Fixed per month') : 0
  if (wrong.value || first == null || second == null || above == null || fixed == null) return
  const id = freshId(said.name || 'tariff', Object.keys(home.value?.tariffs ?? {}))
  const value = tariffOf(shape.value, {
    id,
    name: said.name.trim() || 'My tariff',
    since: `${new Date().getFullYear()}-01-01`,
    price: first,
    other: second,
    above,
    fixed,
    window: { start_h: said.from, end_h: said.to, days: said.days as 'all' },
  })
  edit(`Tariff: ${value.name}`, [{ doc: 'home', op: 'add', path: `/tariffs/${escape(id)}`, value }])
  emit('added')
}
</script>

<template>
  <form class="start" aria-label="A tariff from your bill" @submit.prevent="add">
    <p class="segments" role="group" aria-label="Price structure">
      <el-button v-for="(words, key) in SHAPES" :key="key" :aria-pressed="shape === key" @click="choose(key)">{{
        words
      }}</el-button>
    </p>
    <p v-if="wrong" role="alert">{{ wrong }}</p>
    <div class="grid">
      <label>Name <el-input v-model="said.name" maxlength="80" placeholder="My tariff" /></label>
      <label>
        {{ shape === 'night' ? 'By day' : shape === 'peak' ? 'Outside peak hours' : 'Price' }} ({{ currency }} per kWh)
        <el-input v-model="said.price" inputmode="decimal" placeholder="0.31" />
      </label>
      <label v-if="shape === 'night' || shape === 'peak'">
        {{ shape === 'night' ? 'At night' : 'In peak hours' }} ({{ currency }} per kWh)
        <el-input v-model="said.other" inputmode="decimal" :placeholder="shape === 'night' ? '0.14' : '0.48'" />
      </label>
      <template v-if="shape === 'tiers'">
        <label>Above (kWh per month) <el-input v-model="said.above" inputmode="decimal" placeholder="300" /></label>
        <label>
          Each further kWh costs more by ({{ currency }})
          <el-input v-model="said.other" inputmode="decimal" placeholder="0.06" />
        </label>
      </template>
      <template v-if="shape === 'night' || shape === 'peak'">
        <div class="hours">
          <span>{{ shape === 'night' ? 'Night' : 'Peak' }} from</span>
          <Choice :model-value="said.from" label="From" @change="said.from = Number($event)">
            <el-option v-for="h in HALVES" :key="h" :value="h" :label="hourOfDay(h)" />
          </Choice>
        </div>
        <div class="hours">
          <span>to</span>
          <Choice :model-value="said.to" label="Until" @change="said.to = Number($event)">
            <el-option v-for="h in HALVES" :key="h" :value="h" :label="hourOfDay(h)" />
          </Choice>
        </div>
        <label>
          On
          <el-select v-model="said.days"
            ><el-option value="all" label="every day" /><el-option value="weekday" label="weekdays" /><el-option
              value="weekend"
              label="weekends"
          /></el-select>
        </label>
      </template>
      <label>
        Fixed per month ({{ currency }}) <el-input v-model="said.fixed" inputmode="decimal" placeholder="optional" />
      </label>
    </div>
    <el-button native-type="submit" class="btn">Add this tariff</el-button>
    <p class="soft small">Seasons, export, holidays and more rates can be entered afterward.</p>
  </form>
</template>

<style scoped>
.start {
  max-width: 760px;
  margin: 0 0 12px;
  padding: 10px 14px;
  border: 1px solid var(--line);
  border-radius: 9px;
  background: var(--sheet);
}
.grid {
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 8px 12px;
  align-items: end;
  margin: 8px 0;
}
.grid label,
.hours {
  display: grid;
  gap: 3px;
  font-size: 13.5px;
}
.grid label > .el-input {
  width: 100%;
}
@media (width < 900px) {
  .grid {
    grid-template-columns: 1fr;
  }
}
</style>
