<script setup lang="ts">
import { useIntervalFn, useLocalStorage } from '@vueuse/core'
import { computed, onBeforeUnmount, ref } from 'vue'
import type { LiveView } from '@/shared/api/types'
import { number, percent } from '@/shared/units/format'

/** A sound while this page is open: at a charge, at watts, and when something is to be done by the clock. */
const props = defineProps<{ stores: LiveView['stores']; acts: LiveView['acts']; now: () => string }>()
const set = useLocalStorage('imbuto.alarms', { below: 20, above: 0 })
const on = ref(false)
const quiet = ref<string[]>([])
let sound: AudioContext | null = null
const ringing = computed(() => {
  const found: { id: string; text: string }[] = []
  for (const s of props.stores) {
    if (100 * s.charge <= set.value.below)
      found.push({ id: `low-${s.source}`, text: `${s.name} is at ${percent(s.charge)}` })
    if (set.value.above > 0 && (s.out_w ?? 0) >= set.value.above)
      found.push({ id: `watts-${s.source}`, text: `${s.name} gives ${number(s.out_w ?? 0)} W` })
  }
  for (const a of props.acts) {
    const due = new Date(props.now()).getTime() - new Date(a.at).getTime()
    if (due >= 0 && due < 1_800_000) found.push({ id: `${a.id}${a.at}`, text: a.title })
  }
  return found.filter((x) => !quiet.value.includes(x.id))
})
function turnOn() {
  sound ??= new AudioContext()
  void sound.resume()
  on.value = true
  beep()
}
/** Two short tones, the second higher: told apart from a smoke alarm, whose own it must never cover. */
function beep() {
  if (!sound || !on.value) return
  for (const [i, hertz] of [520, 660].entries()) {
    const tone = sound.createOscillator()
    const gain = sound.createGain()
    tone.frequency.value = hertz
    gain.gain.value = 0.2
    tone.connect(gain).connect(sound.destination)
    tone.start(sound.currentTime + i * 0.25)
    tone.stop(sound.currentTime + i * 0.25 + 0.2)
  }
}
useIntervalFn(() => {
  if (ringing.value.length) beep()
}, 6000)
onBeforeUnmount(() => void sound?.close())
</script>

<template>
  <div v-if="ringing.length" class="ringing" role="alert">
    <span v-for="x in ringing" :key="x.id">{{ x.text }}. </span>
    <el-button class="btn" @click="quiet = [...quiet, ...ringing.map((x) => x.id)]">Seen</el-button>
  </div>
  <details>
    <summary>Alarms with sound</summary>
    <form class="form" novalidate @submit.prevent>
      <label for="alarm-below">At or below (%)</label>
      <el-input-number id="alarm-below" v-model="set.below" :min="0" :max="100" />
      <label for="alarm-above">At or above (W, 0 for none)</label>
      <el-input-number id="alarm-above" v-model="set.above" :min="0" :max="50000" :step="100" />
    </form>
    <p>
      <el-button v-if="!on" class="btn" @click="turnOn">Sound on</el-button>
      <el-button v-else class="btn" @click="on = false">Sound off</el-button>
    </p>
    <p class="soft">
      The alarm sounds only while this page is open and the screen is on. If something must wake you, set it in the
      phone’s own clock, below. These sounds don’t replace carbon-monoxide and smoke alarms.
    </p>
  </details>
</template>

<style scoped>
.ringing {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
  margin: 0 0 10px;
  padding: 8px 12px;
  border: 3px solid var(--ink);
  border-radius: 8px;
  background: var(--sheet);
  font-weight: 650;
}
details {
  float: right;
  max-width: 44ch;
}
details:not([open]) {
  margin-left: 16px;
}
summary {
  min-height: 28px;
  cursor: pointer;
}
</style>
