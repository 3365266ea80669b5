<script setup lang="ts">
import { computed, ref } from 'vue'
import type { InstrumentsView } from '@/shared/api/types'
import { noteReading, useSession } from '@/shared/session/session'
import { parseNumber, watts } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import { roundOrder } from '../round'
import type { Change } from '../instruments'

/** A flip-in round: circuits on one at a time; the step of the whole panel's W is that circuit's load. */
const props = defineProps<{ seen?: InstrumentsView }>()
const emit = defineEmits<{ set: [Change] }>()
const { home } = useSession()
/** With no monitor connected: W as the station's display, or any meter on the whole, shows them. */
const shown = ref('')
const main = computed(() => props.seen?.main_w ?? (parseNumber(shown.value).ok ? parseNumber(shown.value).value : 0))
const order = computed(() => (home.value ? roundOrder(home.value) : []))
const at = ref(-1)
const before = ref(0)
const steps = ref<{ circuit: string; w: number }[]>([])
const circuit = computed(() => home.value?.circuits[order.value[at.value]?.circuit ?? ''])
const running = computed(() => at.value >= 0 && at.value < order.value.length)
const switched = ref(false)

function begin() {
  steps.value = []
  at.value = 0
  switched.value = false
  before.value = 0
  emit('set', { breakers: Object.fromEntries(order.value.map((o) => [o.circuit, false])) })
}
function on() {
  if (!circuit.value) return
  before.value = main.value
  switched.value = true
  emit('set', { breakers: { [circuit.value.id]: true } })
}
function next(note: boolean) {
  const now = circuit.value
  if (!now) return
  const w = Math.max(0, main.value - before.value)
  steps.value = [...steps.value, { circuit: now.name, w }]
  if (note) noteReading({ text: `step ${Math.round(w)} W now`, circuit: now.id })
  switched.value = false
  at.value += 1
}
function allOn() {
  at.value = -1
  emit('set', { breakers: Object.fromEntries(order.value.map((o) => [o.circuit, true])) })
}
</script>

<template>
  <section v-if="order.length">
    <h2>Flip-in round</h2>
    <template v-if="at < 0">
      <p class="soft">
        Switch off every breaker, then switch on one at a time. The rise on the monitor, or on a station’s display, is
        the load on that circuit. Circuits for someone’s health, a freezer or an aquarium come last and are off for the
        shortest time. Never open the panel’s cover for this.
      </p>
      <el-button class="btn" @click="begin">Switch all off and start</el-button>
    </template>
    <template v-else-if="running && circuit">
      <p>
        {{ at + 1 }} of {{ order.length }}: <strong>{{ circuit.slots.join('·') }} {{ circuit.name }}</strong>
        <span v-if="order[at]?.timed" class="timed"> someone or something depends on this one, so be quick</span>
      </p>
      <label v-if="!seen" class="shown"
        >the display shows <el-input v-model="shown" inputmode="decimal" aria-label="Watts on the display" /> W</label
      >
      <div class="acts">
        <el-button v-if="!switched" class="btn strong" @click="on">Switch it on</el-button>
        <template v-else>
          <strong><Fig :text="`+${watts(Math.max(0, main - before))}`" /></strong>
          <el-button class="btn strong" @click="next(true)">Note the step</el-button>
          <el-button class="btn" @click="next(false)">Skip</el-button>
        </template>
        <el-button class="btn" @click="allOn">Stop and switch all on</el-button>
      </div>
    </template>
    <template v-else>
      <p>The round is done: {{ steps.filter((s) => s.w >= 1).length }} circuits drew power.</p>
      <el-button class="btn strong" @click="allOn">All breakers back on</el-button>
    </template>
    <ol v-if="steps.length" class="small">
      <li v-for="s in [...steps].reverse().slice(0, 6)" :key="s.circuit">
        {{ s.circuit }} <Fig :text="`+${watts(s.w)}`" />
      </li>
    </ol>
  </section>
</template>

<style scoped>
section {
  margin-top: 22px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 10px;
  align-items: center;
}
.acts strong {
  font: 650 24px var(--head);
}
.shown {
  display: block;
  margin-bottom: 8px;
}
.shown .el-input {
  width: 90px;
}
.timed {
  color: var(--turns);
}
ol {
  margin: 10px 0 0;
  padding-left: 20px;
  color: var(--soft);
}
</style>
