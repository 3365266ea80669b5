<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { edit, useSession } from '@/shared/session/session'
import WalkEnd from './components/WalkEnd.vue'
import WalkIntro from './components/WalkIntro.vue'
import WalkStep from './components/WalkStep.vue'
import {
  beginOps,
  endOps,
  entryOps,
  newBreaker,
  recallOff,
  rememberOff,
  walkOrder,
  type Found,
  type OffNow,
} from './walk'

/** The House walk, made for a phone at the panel: one breaker off, what went dark, on again, next. */
const { state, home, plan } = useSession()
const route = useRoute()
const order = computed(() => (home.value ? walkOrder(home.value) : []))
const done = computed(() => order.value.filter((o) => o.done).length)
const begun = ref(false)
const at = ref('')
const off = ref<OffNow | null>(null)
const finishing = ref(false)
const walk = computed(() => home.value?.household.walk ?? null)
const now = () => new Date().toISOString()

watch(
  () => state.value?.id,
  (id) => {
    if (!id) return
    off.value = recallOff(id)
    // An interrupted walk goes on where it was, with the breaker that was off first.
    if (off.value || (walk.value && !walk.value.ended && done.value)) begun.value = true
    at.value = off.value?.circuit ?? nextId('')
    finishing.value = !off.value && begun.value && !at.value
  },
  { immediate: true },
)
const current = computed(() => order.value.find((o) => o.circuit.id === at.value))
const index = computed(() => order.value.findIndex((o) => o.circuit.id === at.value))

function nextId(after: string): string {
  const list = order.value
  const from = list.findIndex((o) => o.circuit.id === after) + 1
  const rest = [...list.slice(from), ...list.slice(0, from)]
  return rest.find((o) => !o.done && o.circuit.id !== after)?.circuit.id ?? ''
}
function begin(depends: string) {
  if (home.value) edit('Walk started', beginOps(home.value, depends, now()))
  begun.value = true
  finishing.value = false
  at.value = nextId('') || (order.value[0]?.circuit.id ?? '')
}
function setOff(circuit: string | null) {
  off.value = circuit ? { circuit, since: Date.now() } : null
  if (state.value) rememberOff(state.value.id, off.value)
}
function save(found: Found) {
  const c = current.value?.circuit
  if (!home.value || !c) return
  const next = nextId(c.id)
  edit(`Walked: ${c.slots.join('·')} ${found.name || c.name}`, entryOps(home.value, c, found, now()))
  setOff(null)
  at.value = next
  finishing.value = !next
}
function skip(by: number) {
  const list = order.value
  at.value = list[(index.value + by + list.length) % list.length]?.circuit.id ?? ''
  finishing.value = false
}
function addBreaker(slot: number, amps: number) {
  if (!home.value) return
  const made = newBreaker(home.value, slot, amps)
  edit(`New breaker in slot ${slot}`, made.ops)
  at.value = made.id
  finishing.value = false
}
function end(ended: boolean) {
  edit(ended ? 'Walk ended, every breaker on' : 'Walk resumed', endOps(ended ? now() : null))
}
</script>

<template>
  <div class="walk">
    <header>
      <RouterLink :to="{ name: 'house', params: route.params, query: route.query }">House</RouterLink>
      <strong>The House walk</strong>
      <span data-figure>{{ done }} of {{ order.length }} walked</span>
    </header>
    <template v-if="home">
      <WalkIntro v-if="!begun" :home="home" :walk="walk" @begin="begin" />
      <WalkEnd
        v-else-if="finishing"
        :home="home"
        :plan="plan?.id ?? ''"
        :left="order.length - done"
        @end="end"
        @back="skip(1)"
        @add="addBreaker"
      />
      <WalkStep
        v-else-if="current"
        :key="current.circuit.id"
        :home="home"
        :circuit="current.circuit"
        :timed="current.timed"
        :done="current.done"
        :off="off?.circuit === current.circuit.id ? off.since : null"
        :other-off="off && off.circuit !== current.circuit.id ? (home.circuits[off.circuit]?.name ?? '') : ''"
        @off="setOff(current.circuit.id)"
        @save="save"
        @skip="skip"
        @finish="finishing = true"
      />
      <p v-else>
        There are no breakers to map yet. <RouterLink :to="{ name: 'house' }">Enter the panel first.</RouterLink>
      </p>
    </template>
  </div>
</template>

<style scoped>
.walk {
  max-width: 560px;
  min-height: 100%;
  margin: 0 auto;
  padding: 0 16px 24px;
  font-size: 16px;
}
header {
  position: sticky;
  top: 0;
  z-index: 5;
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 10px;
  min-height: 52px;
  background: var(--paper);
  border-bottom: 2px solid var(--deep);
}
header a {
  min-height: 44px;
  display: inline-flex;
  align-items: center;
  color: var(--stored-ink);
}
</style>
