<script setup lang="ts">
import { computed } from 'vue'
import type { Verdict } from '@/shared/api/types'
import { hoursText, kwh } from '@/shared/units/format'
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
const needs = computed(() => props.verdict.unfed.map((u) => u.needs).join(' '))
/** Several stations, each with the hours to count on: the lowest leads above. */
const parts = computed(() =>
  props.verdict.parts
    .map(
      (p) =>
        `${p.name} ${p.low_hours === null ? `over ${hoursText(props.verdict.simulated_h)}` : hoursText(p.low_hours)}`,
    )
    .join(' · '),
)
const said = computed(() => props.verdict.headline)
/** Under the figure: until when, and what is expected. */
const under = computed(() =>
  [said.value.until && `until ${said.value.until}`, said.value.probably, dry.value].filter(Boolean).join(', '),
)
</script>

<template>
  <div class="words" data-test="verdict">
    <span v-if="said.life && verdict.neck?.kind !== 'life'" class="unfed" data-quantity="life_off">{{
      said.life
    }}</span>
    <span v-if="said.may && said.may_first" class="unfed" data-test="may">{{ said.may }}</span>
    <template v-if="verdict.fits">
      <span class="quiet">{{ said.label }}</span>
      <strong :key="said.figure" data-quantity="count_on"><Fig :text="said.figure" /></strong>
      <span v-if="verdict.parts.length" class="quiet">{{ parts }}</span>
      <span v-else-if="under" class="quiet">{{ under }}</span>
    </template>
    <template v-else-if="broken">
      <strong class="bad">{{ said.label }}</strong>
      <span class="quiet">{{ said.instead }}</span>
    </template>
    <template v-else-if="verdict.state === 'no_station' && verdict.needs_wh">
      <span class="quiet">No station yet</span>
      <strong class="long"><Fig :text="`${hoursText(verdict.goal_hours)} needs ${kwh(verdict.needs_wh)}`" /></strong>
    </template>
    <template v-else>
      <strong class="long">{{ said.label }}</strong>
      <span class="quiet">{{
        verdict.state === 'no_loads' ? 'Add one load to see hours' : 'Choose what to power to see hours'
      }}</span>
    </template>
    <span v-if="said.may && !said.may_first" class="may" data-test="may">{{ said.may }}</span>
    <span v-if="said.missing" class="unfed" :title="needs">{{ said.missing }}</span>
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
.may {
  font-size: 12.5px;
  color: var(--gain);
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
