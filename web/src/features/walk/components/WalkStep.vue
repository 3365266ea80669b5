<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Circuit, Home } from '@/shared/api/types'
import type { Found } from '../walk'
import DarkList from './DarkList.vue'

/** One breaker: off, what went dark, on again. */
const props = defineProps<{
  home: Home
  circuit: Circuit
  timed: boolean
  done: boolean
  off: number | null
  otherOff: string
}>()
const emit = defineEmits<{ off: []; save: [Found]; skip: [number]; finish: [] }>()
const slot = computed(() => props.circuit.slots.join(' and ') || '?')
const name = ref(props.circuit.name)
const room = ref(props.circuit.room)
const loads = ref(
  Object.values(props.home.loads)
    .filter((l) => l.circuit === props.circuit.id)
    .map((l) => l.id),
)
const added = ref<string[]>([])
const dark = ref(props.home.household.walk?.entries[props.circuit.id]?.dark ?? '')
const clock = ref(Date.now())
useIntervalFn(() => (clock.value = Date.now()), 1000)
const seconds = computed(() => (props.off ? Math.max(0, Math.floor((clock.value - props.off) / 1000)) : 0))
const since = computed(() => `${Math.floor(seconds.value / 60)} m ${String(seconds.value % 60).padStart(2, '0')} s`)
const WARN_S = 180
</script>

<template>
  <section>
    <p v-if="otherOff" role="alert" class="care">
      <b>{{ otherOff }}</b> is still off. Switch it on before you switch off the next one.
    </p>
    <div class="breaker" :class="{ isoff: off }">
      <span class="slot">{{ slot }}</span>
      <span>
        <b>{{ circuit.name }}</b><br /><span class="soft" data-figure
          >{{ circuit.breaker_a }} A{{ circuit.poles === 2 ? ', double' : '' }}</span
        ><span v-if="circuit.panel" class="soft"> · in {{ home.panels[circuit.panel]?.name }}</span>
        <span v-if="done" class="soft"> · done already</span>
      </span>
    </div>
    <p v-if="timed" class="timed">Someone or something depends on this one. Check quickly, and switch it back on.</p>
    <template v-if="off === null">
      <button class="btn strong big" :disabled="!!otherOff" @click="emit('off')">
        Switch {{ slot }} off, then press here
      </button>
      <p class="soft">
        Is it missing, or shouldn’t you touch it today? <button class="link" @click="emit('skip', 1)">Skip it</button> ·
        <button class="link" @click="emit('skip', -1)">Previous breaker</button> ·
        <button class="link" @click="emit('finish')">End the walk</button>
      </p>
    </template>
    <template v-else>
      <p :class="{ care: timed && seconds > WARN_S }">
        Off for <b data-figure>{{ since }}</b><template v-if="timed && seconds > WARN_S"
          >: long enough, switch it back on</template
        >. What went dark?
        <span v-if="loads.length" class="soft">Untick loads that stayed on.</span>
      </p>
      <DarkList v-model:loads="loads" v-model:added="added" :home="home" :circuit="circuit" />
      <label for="w-room">Rooms</label>
      <input id="w-room" v-model="room" placeholder="kitchen, hall" maxlength="200" />
      <label for="w-name">Name</label>
      <input id="w-name" v-model="name" maxlength="80" />
      <label for="w-dark">Other observations</label>
      <input id="w-dark" v-model="dark" maxlength="400" placeholder="left outlet dead, right outlet live" />
      <button class="btn strong big" @click="emit('save', { name, room, loads, added, dark })">
        Back on: next breaker
      </button>
    </template>
  </section>
</template>

<style scoped>
.breaker {
  display: flex;
  gap: 14px;
  align-items: center;
  margin: 16px 0 12px;
  padding: 14px;
  border: 2px solid var(--ink);
  border-radius: 10px;
  background: var(--sheet);
}
.isoff {
  border-style: dashed;
}
.slot {
  min-width: 64px;
  font: 650 34px var(--head);
  text-align: center;
}
.big {
  width: 100%;
  min-height: 58px;
  margin-top: 14px;
  justify-content: center;
  font-size: 18px;
  white-space: normal;
}
.care {
  padding: 8px 12px;
  border-left: 5px solid var(--dark);
  background: var(--sheet);
}
.timed {
  padding: 8px 12px;
  border-left: 5px solid var(--turns);
  background: var(--sheet);
}
.link {
  min-height: 44px;
}
label {
  display: block;
  margin-top: 10px;
  color: var(--soft);
}
input {
  width: 100%;
  height: 46px;
  padding: 4px 10px;
  border: 1.5px solid var(--line-strong);
  border-radius: 8px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
}
</style>
