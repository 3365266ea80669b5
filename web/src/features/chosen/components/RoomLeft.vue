<script setup lang="ts">
import { computed } from 'vue'
import type { Home, Limit, Plan, Verdict } from '@/shared/api/types'
import { amount, number } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import { choice, useSetting, type Change } from '../model'
import ForgottenList from './ForgottenList.vue'
import MindList from './MindList.vue'
import FoldSection from '@/shared/ui/FoldSection.vue'
import Choice from '@/shared/ui/fields/Choice.vue'

/** What room each limit leaves; riders; cautions. */
const props = defineProps<{ verdict: Verdict; home: Home; plan: Plan }>()
const emit = defineEmits<{ change: [Change] }>()

/** One bar a family at a glance: the tightest; each leg; and whatever is past its limit or nearly so. */
const bars = computed(() => {
  const countable = props.verdict.limits.filter(
    (l) => l.kind === 'at_most' && (l.severity === 'broken' || l.severity === 'refuse' || l.severity === 'may'),
  )
  const tightestOf = (family: string) =>
    countable.filter((l) => l.family === family).sort((a, b) => (a.margin_percent ?? 0) - (b.margin_percent ?? 0))[0]
  const glance = [
    tightestOf('places'),
    ...countable.filter((l) => l.family === 'leg'),
    tightestOf('together'),
    tightestOf('start'),
    ...countable.filter((l) => l.family === 'neutral'),
  ]
  return countable.filter((l) => glance.includes(l) || !l.ok || (l.family === 'place' && (l.margin_percent ?? 100) < 5))
})
const refusals = computed(() =>
  props.verdict.limits.filter(
    (l) => l.kind === 'yes_no' && !l.ok && (l.severity === 'broken' || l.severity === 'refuse' || l.severity === 'may'),
  ),
)
const next = computed(() => (props.verdict.neck?.kind === 'next' ? props.verdict.neck.id.slice(5) : ''))
/** What would give next; while something is past its limit, nothing else is next. */
const tightest = computed(() => {
  if (!props.verdict.fits) return undefined
  const near = bars.value.filter((l) => l.family !== 'places')
  return near.sort((a, b) => (a.margin_percent ?? 0) - (b.margin_percent ?? 0))[0]
})
const riders = computed(() => props.verdict.riders.map((id) => props.home.loads[id]).filter((l) => l !== undefined))
const unplugged = computed(() =>
  Object.entries(props.plan.load_choices)
    .filter(([, c]) => c === 'unplugged')
    .map(([id]) => props.home.loads[id])
    .filter((l) => l !== undefined),
)

/** Loads of the plan that can be set in more than one way. */
const settable = computed(() => {
  const feeds = Object.values(props.plan.feeds)
  const fed = (id: string, circuit: string | null) =>
    feeds.some((f) => f.load === id || (f.circuit !== null && f.circuit === circuit))
  return Object.values(props.home.loads).filter((l) => Object.keys(l.settings).length > 0 && fed(l.id, l.circuit))
})
function pick(load: string, value: string) {
  emit('change', useSetting(props.plan, props.home, load, value === 'season' ? null : value))
}

function figure(l: Limit): string {
  if (l.unit === 'W' || l.unit === 'VA') return `${number(l.used / 1000, 1)} of ${number(l.limit / 1000, 1)} k${l.unit}`
  return l.unit === 'A'
    ? `${amount(l.used)} of ${amount(l.limit)} A`
    : `${number(l.used)} of ${number(l.limit)} ${l.unit}`
}
const width = (l: Limit) => `${Math.min(100, l.limit ? (100 * l.used) / l.limit : 100)}%`
function note(l: Limit): string {
  if (!l.ok) return `${amount(l.used - l.limit)} ${l.unit} over`
  if (l.id === next.value || l === tightest.value)
    return `${amount(l.limit - l.used)} ${l.unit} left, closest to its limit`
  return ''
}
</script>

<template>
  <aside>
    <h2>Room left</h2>
    <p v-if="!verdict.limits.length" class="soft">Choose a station to see how much room is left.</p>
    <div v-for="r in refusals" :key="r.id" class="refusal" role="alert">{{ r.sentence }}</div>
    <div v-for="l in bars" :key="l.id" class="bar" :class="{ past: !l.ok }" :title="l.sentence">
      <div class="row">
        <span>{{ l.title }}</span>
        <b><Fig :text="figure(l)" /></b>
      </div>
      <div class="track" :class="{ full: !l.ok }"><i :style="{ width: width(l) }"></i></div>
      <div v-if="note(l)" class="small soft"><Fig :text="note(l)" /></div>
    </div>
    <FoldSection
      v-if="riders.length || unplugged.length"
      id="chosen.riders"
      title="Also on these circuits"
      :holds="riders.length + unplugged.length"
    >
      <p v-for="l in riders" :key="l.id">
        {{ l.name }}, <Fig :text="`${number(l.run_w * l.count)} W`" />:
        <el-button class="link" @click="emit('change', choice(plan, home, l.id, 'unplugged'))">unplug</el-button> or
        <el-button class="link" @click="emit('change', choice(plan, home, l.id, 'wanted'))">count</el-button>
      </p>
      <p v-for="l in unplugged" :key="l.id">
        {{ l.name }} is unplugged.
        <el-button class="link" @click="emit('change', choice(plan, home, l.id, null))">Plug it in again</el-button>.
      </p>
    </FoldSection>
    <FoldSection v-if="settable.length" id="chosen.settings" title="Settings of loads" :holds="settable.length">
      <label v-for="l in settable" :key="l.id" class="row">
        {{ l.name }}
        <Choice :model-value="plan.settings[l.id] ?? 'season'" @change="pick(l.id, $event)">
          <el-option value="season" label="as usual for the season" />
          <el-option value="" :label="`as usual, ${number(l.average_w)} W`" />
          <el-option v-for="s in l.settings" :key="s.id" :value="s.id" :label="`${s.name}, ${number(s.average_w)} W`" />
        </Choice>
      </label>
    </FoldSection>
    <MindList :verdict="verdict" :plan="plan" @change="emit('change', $event)" />
    <ForgottenList :verdict="verdict" :plan="plan" @change="emit('change', $event)" />
    <p class="soft small">{{ verdict.fit_note }} Your local code and a licensed electrician decide.</p>
  </aside>
</template>

<style scoped>
h2 {
  margin-bottom: 10px;
}
.bar {
  margin-bottom: 9px;
}
.row {
  display: flex;
  justify-content: space-between;
  flex-wrap: wrap;
  gap: 0 8px;
  font-size: 13px;
}
.choice {
  max-width: 100%;
}
.track {
  height: 8px;
  margin-top: 3px;
  border-radius: 4px;
  background: var(--spine);
  overflow: hidden;
}
.track i {
  display: block;
  height: 100%;
  background: var(--stored);
}
.past b,
.past .small {
  color: var(--dark);
}
.full i {
  background: repeating-linear-gradient(135deg, var(--dark) 0 6px, color-mix(in srgb, var(--dark) 60%, #fff) 6px 9px);
}
.refusal {
  margin-bottom: 10px;
  padding: 6px 10px;
  border-left: 5px solid var(--dark);
  background: var(--sheet);
}
.fold p {
  margin: 4px 0;
  font-size: 13px;
}
</style>
