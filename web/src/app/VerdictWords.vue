<script setup lang="ts">
import { computed } from 'vue'
import type { Verdict } from '@/shared/api/types'
import { clock, hoursText, kwh } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** The large words: hours where they can happen, else why they cannot. */
const props = defineProps<{ verdict: Verdict }>()

const broken = computed(() => !!props.verdict.neck && !props.verdict.fits)
/** Hours that lean on the sun never stand alone. */
const dry = computed(() => {
  const { sun, dry_hours, hours, simulated_h } = props.verdict
  const same =
    hours === dry_hours || (hours !== null && dry_hours !== null && hoursText(hours) === hoursText(dry_hours))
  if (!sun || same) return ''
  return dry_hours === null ? `without sun over ${hoursText(simulated_h)}` : `without sun ${hoursText(dry_hours)}`
})
/** What must stay on and is fed by nothing stands beside the hours. */
const unfed = computed(() => {
  const names = props.verdict.unfed.map((u) => u.name)
  return names.length > 2
    ? `${names.slice(0, 2).join(', ')} and ${names.length - 2} more not fed`
    : names.length
      ? `${names.join(' and ')} not fed`
      : ''
})
const needs = computed(() => props.verdict.unfed.map((u) => u.needs).join(' '))
/** Several stations, each with its hours: the lowest leads above. */
const parts = computed(() =>
  props.verdict.parts
    .map((p) => `${p.name} ${p.hours === null ? `over ${hoursText(props.verdict.simulated_h)}` : hoursText(p.hours)}`)
    .join(' · '),
)
const solved = computed(() => {
  const v = props.verdict
  if (!v.solvable) return ''
  return v.solved_hours === null
    ? `over ${hoursText(v.simulated_h)} once solved`
    : `${hoursText(v.solved_hours)} once solved`
})
</script>

<template>
  <div class="words" data-test="verdict">
    <template v-if="verdict.fits && verdict.hours !== null">
      <span class="quiet">Keeps going{{ dry ? ` (${dry})` : '' }}</span>
      <strong :key="verdict.hours"><Fig :text="hoursText(verdict.hours)" /></strong>
      <span v-if="verdict.parts.length" class="quiet">{{ parts }}</span>
      <span v-else-if="verdict.until" class="quiet">until {{ clock(verdict.until) }}</span>
    </template>
    <template v-else-if="verdict.fits">
      <span class="quiet">Keeps going{{ dry ? ` (${dry})` : '' }}</span>
      <strong class="long">Still on after <Fig :text="hoursText(verdict.simulated_h)" /></strong>
    </template>
    <template v-else-if="broken">
      <strong class="bad">{{ verdict.words }}</strong>
      <span class="quiet">{{ solved || 'no single change clears it' }}</span>
    </template>
    <template v-else-if="verdict.state === 'no_station' && verdict.needs_wh">
      <span class="quiet">No station yet</span>
      <strong class="long"><Fig :text="`${hoursText(verdict.goal_hours)} needs ${kwh(verdict.needs_wh)}`" /></strong>
    </template>
    <template v-else>
      <strong class="long">{{ verdict.words }}</strong>
      <span class="quiet">{{
        verdict.state === 'no_loads' ? 'Add one load to see hours' : 'Choose what to feed to see hours'
      }}</span>
    </template>
    <span v-if="unfed" class="unfed" :title="needs">{{ unfed }}</span>
  </div>
</template>

<style scoped>
.words {
  display: grid;
  flex: none;
  max-width: 240px;
}
.words strong {
  font: 650 29px/1.1 var(--head);
  animation: settle 0.6s ease-out;
}
.words .long {
  font-size: 21px;
}
.words .bad {
  color: var(--dark-on-bar);
}
.unfed {
  font-size: 12.5px;
  color: var(--dark-on-bar);
}
.quiet {
  font-size: 12.5px;
  color: var(--on-deep-soft);
}
@keyframes settle {
  from {
    transform: translateY(-7px);
    color: var(--gain);
  }
}
</style>
