<script setup lang="ts">
import { computed } from 'vue'
import type { Plan, Verdict } from '@/shared/api/types'
import FoldSection from '@/shared/ui/FoldSection.vue'
import { tick, type Change } from '../model'

/** What to mind: cautions, those a person can settle with a way to say so, and those that were settled. */
const props = defineProps<{ verdict: Verdict; plan: Plan }>()
const emit = defineEmits<{ change: [Change] }>()
const WORDS: Record<string, string> = {
  ups: 'A small UPS is installed, or the load bridges the gap',
  bypass: 'The loads are plugged in only in an outage',
  auto_off: 'Auto-off is turned off',
  bond: 'An electrician has resolved it',
  engine_bond: 'An electrician has resolved it for the generator',
  own_charger: 'Unplugging the charger is the first step on the card',
  contracted: 'It charges while little else runs',
  weight: 'Two people and a cart are available',
  equal_charge: 'Their charge and firmware are the same',
  module_charge: 'Their charge is the same',
  clip: 'This is intended',
  fuses: 'Each string has its fuse',
  dc: 'A qualified person wires it',
  lever: 'The person who moves the levers knows when',
  opened: 'They are switched off first, or the station can handle the start',
  lower_charger: 'Both are set this way, and I wrote down both settings',
  swap: 'Someone is there to change them',
  bank: 'The manufacturer allows it',
  dc_volts: 'The port was measured',
  engine_near: 'The generator is outside, and the alarm is up',
  ac_side: 'I don’t count on it',
}
/** What a tick states; one of an array carries its id. */
function words(ticked: string, title?: string) {
  const [kind = '', array] = ticked.split(':')
  const of = array ? (props.plan.arrays[array] ?? props.plan.banks[array])?.name : undefined
  return `${WORDS[kind] ?? title ?? kind}${of ? ` (${of})` : ''}`
}
const open = computed(() => props.verdict.limits.filter((l) => !l.ok && (l.severity === 'caution' || l.tick)))
/** What nobody has entered, what may turn the verdict first; nothing settles it but the figure. */
const unknown = computed(() => {
  const told = props.verdict.unknowns
  const ids = new Set(told.map((u) => u.id))
  const rest = props.verdict.limits.filter(
    (l) => !l.ok && l.severity === 'unknown' && !ids.has(l.id.split(/[#@]/)[0] ?? ''),
  )
  return [...told, ...rest.map((l) => ({ id: l.id, title: l.title, where: 'house', sentence: l.sentence, weight: 2 }))]
})
const settled = computed(() =>
  props.plan.ticks.filter((t) => !t.startsWith('not_needed:') && !open.value.some((l) => l.tick === t)),
)
</script>

<template>
  <FoldSection
    v-if="unknown.length"
    id="chosen.unknown"
    title="What the plan still needs to know"
    :holds="unknown.length"
  >
    <p v-for="u in unknown" :key="u.id">
      <b>{{ u.title }}.</b> {{ u.sentence }}
      <RouterLink
        v-if="u.where === 'equipment'"
        :to="{ name: 'equipment', params: { home: $route.params.home ?? '' }, query: $route.query }"
        >Enter it</RouterLink
      >
    </p>
  </FoldSection>
  <FoldSection v-if="open.length || settled.length" id="chosen.check" title="Check" :holds="open.length">
    <div v-for="l in open" :key="l.id" class="one">
      <p>{{ l.sentence }}</p>
      <el-checkbox
        v-if="l.tick"
        :model-value="false"
        @change="emit('change', tick(plan, l.tick, true, words(l.tick, l.title)))"
        >{{ words(l.tick, 'Settled') }}</el-checkbox
      >
    </div>
    <div v-for="t in settled" :key="t" class="one">
      <el-checkbox class="soft" :model-value="true" @change="emit('change', tick(plan, t, false, words(t)))">{{
        words(t)
      }}</el-checkbox>
    </div>
  </FoldSection>
</template>

<style scoped>
p {
  margin: 6px 0 2px;
}
label {
  display: flex;
  gap: 7px;
  align-items: flex-start;
  font-size: 13px;
}
</style>
