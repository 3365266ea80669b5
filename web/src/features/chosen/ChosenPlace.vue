<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { Stance, TransferEquipment } from '@/shared/api/types'
import { edit, useSession } from '@/shared/session'
import { useShortcuts } from '@/shared/shortcuts'
import CordPicker from '@/shared/ui/CordPicker.vue'
import PanelDrawing from '@/shared/ui/PanelDrawing.vue'
import { circuitWatts, figuresById } from '../house/model'
import EquipmentFacts from './components/EquipmentFacts.vue'
import LoadPicker from './components/LoadPicker.vue'
import PlaceBoard from './components/PlaceBoard.vue'
import RoomLeft from './components/RoomLeft.vue'
import StanceControl from './components/StanceControl.vue'
import {
  changeEquipment,
  feedOf,
  moveTo,
  setCord,
  setStance,
  spansOf,
  stanceOf,
  type Change,
  type Target,
} from './model'

const ProposeDialog = defineAsyncComponent(() => import('./components/ProposeDialog.vue'))
const { home, plan, verdict, problem } = useSession()
const shipped = useQuery({
  queryKey: ['transfer'],
  queryFn: () => answer(api.GET('/api/transfer')),
  staleTime: Infinity,
})
const catalogue = computed<TransferEquipment[]>(() => [
  ...((shipped.data.value ?? []) as TransferEquipment[]),
  ...(Object.values(home.value?.catalogue.transfer ?? {}) as TransferEquipment[]),
])
const equipment = computed(() => catalogue.value.find((e) => e.id === plan.value?.transfer) ?? null)
const cords = computed(() => equipment.value?.kind === 'cords')
const spans = computed(() => spansOf(verdict.value))
const figures = computed(() => figuresById(verdict.value))
const count = computed(() => verdict.value?.rail.places ?? 0)
const picked = ref<string | null>(null)
const proposing = ref(false)

const drawn = computed(() =>
  Object.values(home.value?.circuits ?? {}).map((circuit) => ({
    circuit,
    watts: home.value ? circuitWatts(home.value, circuit.id, figures.value) : 0,
    stance: plan.value ? stanceOf(plan.value, { kind: 'circuit', id: circuit.id }) : ('off' as const),
  })),
)

const target = computed<Target | null>(() => {
  if (!picked.value || !home.value) return null
  const kind = cords.value ? 'load' : 'circuit'
  const there = kind === 'load' ? home.value.loads[picked.value] : home.value.circuits[picked.value]
  return there ? { kind, id: picked.value } : null
})
/** Why a circuit stays off, as it was kept with the plan. */
const reason = computed(() =>
  target.value?.kind === 'circuit' && plan.value && !feedOf(plan.value, target.value)
    ? (plan.value.reasons[target.value.id] ?? '')
    : '',
)
const asTarget = (id: string): Target => ({ kind: cords.value ? 'load' : 'circuit', id })

function send(change: Change | null) {
  if (change) edit(change.label, change.ops)
}
function stance(next: Stance | 'off', id = picked.value) {
  if (id && plan.value && home.value)
    send(setStance(plan.value, home.value, spans.value, asTarget(id), next, count.value))
}
function place(id: string, to: number) {
  picked.value = id
  if (plan.value && home.value) send(moveTo(plan.value, home.value, spans.value, asTarget(id), to, count.value))
}
function dropOff(event: DragEvent) {
  const id = event.dataTransfer?.getData('text/plain')
  if (id) stance('off', id)
}
function pickEquipment(id: string) {
  const to = catalogue.value.find((e) => e.id === id)
  if (to && plan.value && to.id !== plan.value.transfer) send(changeEquipment(plan.value, to))
}
const print = () => window.print()

useShortcuts([
  { keys: 'k', what: 'keep the selected circuit on', run: () => stance('keep_on') },
  { keys: 't', what: 'the selected circuit takes turns', run: () => stance('turns') },
  { keys: 'x', what: 'leave the selected circuit off', run: () => stance('off') },
])
</script>

<template>
  <div v-if="home && plan" class="place chosen">
    <header>
      <div>
        <h1>Chosen</h1>
        <p class="lead">
          {{
            cords
              ? 'Hang single appliances on the station’s outlets'
              : 'Pour circuits from your panel into the switch’s places'
          }}
        </p>
      </div>
      <div class="tools">
        <button v-if="!cords && plan && Object.keys(plan.sources).length" class="btn" @click="proposing = true">
          Propose a set
        </button>
        <button v-if="!cords" class="btn" @click="print">Print place numbers</button>
      </div>
    </header>
    <div class="columns">
      <section class="from" @dragover.prevent @drop="dropOff">
        <LoadPicker
          v-if="cords"
          :selected="picked"
          :plan="plan"
          :home="home"
          :figures="figures"
          @select="picked = $event"
        />
        <PanelDrawing
          v-else-if="home.service.slots"
          :slots="home.service.slots"
          :drawn="drawn"
          :selected="picked"
          draggable
          @select="picked = $event"
        />
        <p v-else class="soft">
          A switch feeds circuits, and no panel is entered yet: give its slots under House, Home facts.
        </p>
        <StanceControl :target="target" :home="home" :plan="plan" @stance="stance" />
        <p v-if="reason" class="small soft reason">Left off: {{ reason }}</p>
        <CordPicker
          v-if="cords && picked && feedOf(plan, asTarget(picked))"
          class="cord"
          label="Its cord"
          :cord="feedOf(plan, asTarget(picked))?.cord ?? null"
          :metric="home.service.volts === 230"
          @change="(c) => plan && home && picked && send(setCord(plan, home, picked, c))"
          @problem="(text) => (problem = text)"
        />
      </section>
      <section class="to scroll">
        <el-select
          :model-value="plan.transfer"
          aria-label="Transfer equipment"
          class="equipment"
          @update:model-value="pickEquipment"
        >
          <el-option v-for="e in catalogue" :key="e.id" :value="e.id" :label="e.name" />
        </el-select>
        <EquipmentFacts v-if="equipment" :equipment="equipment" :currency="home.site.currency" />
        <PlaceBoard
          v-if="equipment"
          :equipment="equipment"
          :count="count"
          :home="home"
          :plan="plan"
          :two-legs="verdict?.rail.legs === 2"
          :selected="picked"
          :figures="figures"
          :spans="spans"
          :place-legs="verdict?.place_legs ?? []"
          :feed-legs="verdict?.feed_legs ?? {}"
          @select="picked = $event"
          @place="place"
        />
      </section>
      <RoomLeft v-if="verdict" class="room scroll" :verdict="verdict" :home="home" :plan="plan" @change="send" />
    </div>
    <ProposeDialog v-if="proposing" @close="proposing = false" />
  </div>
</template>

<style scoped>
.from {
  display: flex;
  flex-direction: column;
  flex: 0 0 446px;
  min-height: 0;
}
.from > :deep(.panel) {
  flex: 1;
  min-height: 0;
  grid-template-rows: repeat(var(--rows), minmax(20px, 1fr));
}
.to {
  flex: 1 1 300px;
  min-width: 240px;
}
.cord,
.reason {
  margin: 6px 0 0;
}
.equipment {
  margin-bottom: 10px;
}
.room {
  flex: 0 0 232px;
}
@media (max-width: 760px) {
  .from,
  .to,
  .room {
    flex: none;
  }
}
@media print {
  .from,
  .room,
  .equipment {
    display: none;
  }
}
</style>
