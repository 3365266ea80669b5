<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Home, Walk } from '@/shared/api/types'
import { dependents } from '../walk'

/** Before any breaker goes off: who or what depends on power right now? */
const props = defineProps<{ home: Home; walk: Walk | null }>()
const emit = defineEmits<{ begin: [depends: string] }>()
const people = computed(() => dependents(props.home))
const nobody = ref(false)
const depends = ref(props.walk?.depends ?? '')
const answered = computed(() => (nobody.value && !people.value.length) || depends.value.trim().length > 0)
const again = computed(() => !!props.walk)
</script>

<template>
  <section>
    <h1>Who depends on power right now?</h1>
    <p v-if="people.length" class="care">
      In this house: <b>{{ people.map((l) => l.name).join(', ') }}</b>. Have it on its own battery or on another supply
      before you begin, and do its circuit last.
    </p>
    <label v-if="!people.length" class="row"
      ><input v-model="nobody" type="checkbox" /> No one: no breathing aid, no one on the stairs or in an elevator, no
      unsaved work</label
    >
    <label for="depends">{{ people.length ? 'Who' : 'or who' }} and what, and how they manage meanwhile</label>
    <textarea
      id="depends"
      v-model="depends"
      rows="3"
      maxlength="1000"
      placeholder="Concentrator on its own battery; upstairs computer shut down"
    />
    <h2>Map the breakers</h2>
    <ul>
      <li>Take one breaker at a time. Switch it off, check what went off, switch it back on. Leave the main on.</li>
      <li>The panel’s cover stays on. Open only its door. Behind the cover, only an electrician works.</li>
      <li>Refrigerators, pumps and other loads that must not be off for long come last, and Imbuto times them.</li>
      <li>Stop whenever you like. You can continue later, even days later.</li>
      <li>If a breaker is hot, hums, smells or won’t reset, stop and call an electrician.</li>
    </ul>
    <button
      class="btn strong big"
      :disabled="!answered"
      @click="emit('begin', nobody ? 'no one and nothing' : depends)"
    >
      {{ again ? 'Go on with the walk' : 'Begin the walk' }}
    </button>
  </section>
</template>

<style scoped>
h1 {
  margin: 16px 0 8px;
}
h2 {
  margin-top: 18px;
}
.care {
  padding: 8px 12px;
  border-left: 5px solid var(--dark);
  background: var(--sheet);
}
.row {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 48px;
}
input[type='checkbox'] {
  width: 22px;
  height: 22px;
  flex: none;
}
textarea {
  width: 100%;
  margin-top: 4px;
  padding: 8px 10px;
  border: 1.5px solid var(--ink);
  border-radius: 8px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
}
ul {
  padding-left: 20px;
}
li {
  margin: 6px 0;
}
.big {
  width: 100%;
  min-height: 56px;
  justify-content: center;
  font-size: 18px;
}
</style>
