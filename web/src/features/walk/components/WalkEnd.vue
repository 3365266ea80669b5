<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Home } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'

/** The end of the walk: are all breakers back on? Then the papers. */
const props = defineProps<{ home: Home; plan: string; left: number }>()
const emit = defineEmits<{ end: [boolean]; back: []; add: [slot: number, amps: number] }>()
const { waiting } = useSession()
const slot = ref('')
const amps = ref('15')
const ended = computed(() => !!props.home.household.walk?.ended)
const problem = ref('')

function add() {
  const n = Number(slot.value)
  const a = Number(amps.value)
  if (!Number.isInteger(n) || n < 1 || n > props.home.service.slots) {
    problem.value = `Slot: “${slot.value}” is not one of 1 to ${props.home.service.slots}.`
    return
  }
  if (!(a > 0 && a <= 400)) {
    problem.value = `Breaker: “${amps.value}” A isn’t a breaker rating.`
    return
  }
  problem.value = ''
  emit('add', n, a)
}
</script>

<template>
  <section>
    <template v-if="!ended">
      <h1>Are all breakers back on?</h1>
      <p v-if="left" class="soft">
        <b data-figure>{{ left }} breakers</b> aren’t done yet. You can do them another day.
      </p>
      <p>
        Check both columns: every handle points the same way. Refrigerators hum, clocks blink, and the breathing aid
        runs from the wall.
      </p>
      <button class="btn strong big" @click="emit('end', true)">All are back on</button>
      <button class="btn big" @click="emit('back')">Back to the breakers</button>
    </template>
    <template v-else>
      <h1>The walk is done</h1>
      <p v-if="waiting.length" role="status">
        <b data-figure>{{ waiting.length }} {{ waiting.length === 1 ? 'entry is' : 'entries are' }}</b> still being
        saved, so leave this page open.
      </p>
      <p>Tape the directory inside the panel’s door; put the dots next to the breakers.</p>
      <a class="btn strong big" :href="`/api/homes/${home.id}/labels?plan=${plan}`" target="_blank"
        >Directory and dot labels (PDF)</a
      >
      <button class="btn big" @click="emit('end', false)">Repeat some</button>
    </template>
    <h2>Is a breaker missing?</h2>
    <form novalidate class="add" @submit.prevent="add">
      <label>slot <input v-model="slot" inputmode="numeric" /></label>
      <label>A <input v-model="amps" inputmode="numeric" /></label>
      <button class="btn">Add it and continue</button>
    </form>
    <p v-if="problem" role="alert">{{ problem }}</p>
  </section>
</template>

<style scoped>
h1 {
  margin: 18px 0 8px;
}
h2 {
  margin-top: 26px;
}
.big {
  width: 100%;
  min-height: 56px;
  margin-top: 12px;
  justify-content: center;
  font-size: 18px;
}
.add {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin-top: 8px;
}
.add input {
  width: 70px;
  height: 46px;
  padding: 4px 10px;
  border: 1.5px solid var(--line-strong);
  border-radius: 8px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
}
.add .btn {
  min-height: 46px;
}
</style>
