<script setup lang="ts">
import { computed } from 'vue'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { edit, useSession } from '@/shared/session/session'
import type { OwnNumbers, Plan } from '@/shared/api/types'
import Fig from '@/shared/ui/Fig.vue'
import FoldSection from '@/shared/ui/FoldSection.vue'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'
import { number, parseNumber } from '@/shared/units/format'
import NightList from './NightList.vue'

/** Sums by hand with one's own numbers, kept with the plan; a field left empty takes what the plan says. */
const props = defineProps<{ plan: Plan }>()
const { pair, problem } = useSession()
const query = useHomeQuery('/api/homes/{home_id}/by-hand', {
  query: () => ({ ...pair.value }),
  enabled: () => !!pair.value.plan && !!pair.value.outage,
})
const view = query.view

type Key = Exclude<keyof OwnNumbers, 'night'>
interface Field {
  key: Key
  label: string
  unit: string
  least: number
  most: number
  scale?: number
}
const FIELDS: Field[] = [
  { key: 'day_wh', label: 'Energy per day', unit: 'Wh', least: 1, most: 1_000_000 },
  { key: 'days', label: 'Days to last', unit: 'days', least: 0.1, most: 60 },
  { key: 'margin', label: 'Margin on top', unit: '%', least: 0, most: 300, scale: 100 },
  { key: 'module_wh', label: 'One module', unit: 'Wh', least: 10, most: 200_000 },
  { key: 'sun_hours', label: 'Sun hours per day', unit: 'h', least: 0.1, most: 14 },
  { key: 'panel_factor', label: 'Panel factor', unit: '', least: 0.1, most: 1.2 },
  { key: 'panel_w', label: 'One panel', unit: 'W', least: 1, most: 2_000 },
  { key: 'running_h', label: 'Used within', unit: 'h', least: 0.25, most: 24 },
]
const EMPTY: OwnNumbers = {
  day_wh: null,
  days: null,
  margin: 0,
  module_wh: null,
  sun_hours: null,
  panel_w: null,
  panel_factor: 0.75,
  running_h: 24,
  night: { from_h: 22, to_h: 7, loads: [], told_w: null, told_wh: null },
}
const own = computed(() => props.plan.own_numbers ?? EMPTY)
const shown = (f: Field) => {
  const value = own.value[f.key]
  return value === null || value === undefined ? '' : number(value * (f.scale ?? 1), 2)
}
const stands = (f: Field) => {
  const value = view.value?.used[f.key]
  return value === null || value === undefined ? 'not known' : `${number(value * (f.scale ?? 1), 2)}, this plan`
}

function keep(change: Partial<OwnNumbers>, label: string) {
  const op = props.plan.own_numbers ? ('replace' as const) : ('add' as const)
  void edit(label, [{ doc: props.plan.id, op, path: '/own_numbers', value: { ...own.value, ...change } }])
}
function figure(f: Field, typed: string) {
  if (!typed) {
    keep({ [f.key]: EMPTY[f.key] }, `${f.label}: from the plan`)
    return
  }
  const parsed = parseNumber(typed)
  if (!parsed.ok || parsed.value < f.least || parsed.value > f.most) {
    problem.value = `${f.label}: ${parsed.ok ? `enter ${number(f.least, 2)} to ${number(f.most)}` : parsed.why}.`
    return
  }
  keep({ [f.key]: parsed.value / (f.scale ?? 1) }, `${f.label}: ${number(parsed.value, 2)} ${f.unit}`.trim())
}
const TITLES = { battery: 'Storage', solar: 'Panels', inverter: 'Output' } as const
const PIECES = { battery: ['module', 'modules'], solar: ['panel', 'panels'], inverter: ['', ''] } as const
type Sum = NonNullable<typeof view.value>['sums'][number]
function result(s: Sum) {
  if (s.value === null) return 'not known'
  if (s.pieces === null) return `${number(s.value)} ${s.unit}` // as the sum beside it has it, not rounded up
  return `${s.pieces} ${PIECES[s.part][s.pieces === 1 ? 0 : 1]}`
}
</script>

<template>
  <FoldSection id="size/by-hand" title="By hand, with your own numbers">
    <p class="soft small">
      Type the numbers that you reckon with. Where you leave a field empty, Imbuto takes the plan’s. The methods above
      stay as they are.
    </p>
    <div class="numbers fields">
      <label v-for="f in FIELDS" :key="f.key"
        >{{ f.label }}
        <KeptInput
          :value="shown(f)"
          :label="f.unit ? `${f.label}, ${f.unit}` : f.label"
          :placeholder="stands(f)"
          inputmode="decimal"
          @keep="figure(f, $event)"
        >
          <template v-if="f.unit" #suffix>{{ f.unit }}</template>
        </KeptInput></label
      >
    </div>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <dl v-else-if="view" class="sums" data-test="sums">
      <div v-for="s in view.sums" :key="s.part">
        <dt>{{ TITLES[s.part] }}</dt>
        <dd>
          <b><Fig :text="result(s)" /></b>
          <span class="soft">{{ s.formula }}</span>
          <span v-if="s.limit" class="over" role="note">{{ s.limit }}</span>
          <span v-if="s.lacks" class="soft">{{ s.lacks }}</span>
        </dd>
      </div>
    </dl>
    <NightList
      v-if="view"
      :night="own.night"
      :sum="view.night ?? null"
      :says="view.night_says"
      @change="(night, label) => keep({ night }, label)"
    />
  </FoldSection>
</template>

<style scoped>
.numbers {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 8px 18px;
  max-width: 880px;
}
.numbers label {
  display: grid;
}
.sums {
  margin: 12px 0;
}
.sums > div {
  display: grid;
  grid-template-columns: 90px 1fr;
  padding: 4px 0;
  border-bottom: 1px solid var(--line);
}
dd {
  display: flex;
  flex-wrap: wrap;
  gap: 2px 14px;
  margin: 0;
}
dd b {
  min-width: 90px;
}
.over {
  color: var(--dark);
}
</style>
