<script setup lang="ts">
import PrintLink from '@/shared/ui/PrintLink.vue'
import { useQuery } from '@tanstack/vue-query'
import { computed, defineAsyncComponent, ref } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { BoardView, Stance, TransferEquipment } from '@/shared/api/types'
import { escape } from '@/shared/session/patch'
import { edit, useSession } from '@/shared/session/session'
import { useShortcuts } from '@/shared/shortcuts'
import CordPicker from '@/shared/ui/fields/CordPicker.vue'
import PanelDrawing from '@/shared/ui/PanelDrawing.vue'
import PlaceAnswer from '@/shared/ui/PlaceAnswer.vue'
import PanelPicker from '@/shared/ui/fields/PanelPicker.vue'
import { circuitWatts, figuresById } from '../house/model'
import BoardStrip from './components/BoardStrip.vue'
import DeviceSettings from './components/DeviceSettings.vue'
import EquipmentFacts from './components/EquipmentFacts.vue'
import LoadPicker from './components/LoadPicker.vue'
import OpenedBreakers from './components/OpenedBreakers.vue'
import PlaceBoard from './components/PlaceBoard.vue'
import PutCircuits from './components/PutCircuits.vue'
import RoomLeft from './components/RoomLeft.vue'
import StanceControl from './components/StanceControl.vue'
import { addDevice, changeEquipment } from './devices'
import {
  boardKey,
  deviceOf,
  feedOf,
  feedsAt,
  moveTo,
  setCord,
  setStance,
  spansOf,
  stanceOf,
  unjudged,
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
  ...(shipped.data.value ?? []),
  ...Object.values(home.value?.catalogue.transfer ?? {}),
])
/** The devices as the last verdict has them; those of a plan that has none yet, by itself. */
const boards = computed<BoardView[]>(() => {
  const p = plan.value
  if (!p) return []
  const known = verdict.value?.plan === p.id ? verdict.value.boards : []
  const there = known.filter((b) => !b.device || p.devices[b.device])
  return there.length ? there : unjudged(p, catalogue.value)
})
const asked = ref('')
const board = computed<BoardView | null>(() => {
  const there = boards.value.find((b) => boardKey(b) === asked.value)
  return there ?? boards.value[0] ?? null
})
const equipment = computed(() => {
  const p = plan.value
  const id = board.value ? (board.value.device ? p?.devices[board.value.device]?.equipment : 'cords') : undefined
  return catalogue.value.find((e) => e.id === (id ?? Object.values(p?.devices ?? {})[0]?.equipment ?? 'cords')) ?? null
})
const cords = computed(() => equipment.value?.kind === 'cords')
const feeds = computed(() => (plan.value && board.value ? feedsAt(plan.value, board.value) : []))
/** The panel drawn: the one asked for, else the one the device stands at. */
const shownPanel = ref<string | null | undefined>(undefined)
const panel = computed(() => {
  const id = shownPanel.value === undefined ? (board.value?.panel ?? null) : shownPanel.value
  return id !== null && home.value?.panels[id] ? id : null
})
const slots = computed(() =>
  panel.value === null ? (home.value?.service.slots ?? 0) : (home.value?.panels[panel.value]?.slots ?? 0),
)
const spans = computed(() => spansOf(verdict.value))
const figures = computed(() => figuresById(verdict.value))
const count = computed(() => board.value?.places ?? 0)
const picked = ref<string | null>(null)
const proposing = ref(false)

const drawn = computed(() =>
  Object.values(home.value?.circuits ?? {})
    .filter((c) => c.panel === panel.value)
    .map((circuit) => ({
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
  if (id && plan.value && home.value && board.value)
    send(setStance(plan.value, home.value, spans.value, asTarget(id), next, count.value, board.value))
}
function place(id: string, to: number) {
  picked.value = id
  if (plan.value && home.value && board.value)
    send(moveTo(plan.value, home.value, spans.value, asTarget(id), to, count.value, board.value))
}
function dropOff(event: DragEvent) {
  const id = event.dataTransfer?.getData('text/plain')
  if (id) stance('off', id)
}
function pickEquipment(id: string) {
  const to = catalogue.value.find((e) => e.id === id)
  if (to && plan.value && home.value && board.value && to.id !== equipment.value?.id)
    send(changeEquipment(plan.value, home.value, spans.value, board.value, to))
}
function pickBoard(key: string) {
  asked.value = key
  shownPanel.value = undefined
}
/** What is picked may hang on another device than the one looked at: go there. */
function pick(id: string) {
  picked.value = id
  const feed = plan.value ? feedOf(plan.value, asTarget(id)) : null
  if (feed && plan.value) asked.value = boardKey({ source: feed.source, device: deviceOf(plan.value, feed) })
}
function another(to: TransferEquipment) {
  if (!plan.value) return
  const { change, board: made } = addDevice(plan.value, to)
  send(change)
  pickBoard(boardKey(made))
}
function giveSlots(n: number) {
  const path = panel.value === null ? ('/service/slots' as const) : (`/panels/${escape(panel.value)}/slots` as const)
  edit(`A panel of ${n} slots`, [{ doc: 'home', op: 'replace', path, value: n }])
}

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
        <h1>What to power</h1>
        <PlaceAnswer place="chosen" />
      </div>
      <div class="tools">
        <el-button v-if="!cords && plan && Object.keys(plan.sources).length" class="btn" @click="proposing = true">
          Propose a set
        </el-button>
        <PrintLink sheet="chosen" />
      </div>
    </header>
    <div class="columns wraps">
      <section class="from" @dragover.prevent @drop="dropOff">
        <PanelPicker v-if="!cords" :panels="Object.values(home.panels)" :now="panel" @pick="shownPanel = $event" />
        <LoadPicker
          v-if="cords"
          :selected="picked"
          :plan="plan"
          :home="home"
          :figures="figures"
          @select="picked = $event"
        />
        <PanelDrawing
          v-else-if="slots"
          :slots="slots"
          :drawn="drawn"
          :selected="picked"
          draggable
          :feeders="Object.values(home.panels).filter((p) => p.behind === panel)"
          @panel="shownPanel = $event"
          @select="pick($event)"
        />
        <div v-else class="asked">
          <p>
            A switch feeds circuits, and
            {{ panel === null ? 'no panel is entered yet' : 'this panel has no slots yet' }}. How many slots has it,
            counting both columns?
          </p>
          <el-button v-for="n in [12, 20, 24, 30, 40, 42]" :key="n" class="btn" @click="giveSlots(n)">{{
            n
          }}</el-button>
          <p class="soft small">Enter its circuits under House, and the number of slots under House > Home facts.</p>
        </div>
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
        <BoardStrip
          :boards="boards"
          :now="board ? boardKey(board) : ''"
          :catalogue="catalogue"
          :several="Object.keys(plan.devices).length > 0"
          @pick="pickBoard"
          @add="another"
        />
        <el-select
          :model-value="equipment?.id"
          aria-label="Transfer equipment"
          class="equipment"
          @update:model-value="pickEquipment"
        >
          <el-option v-for="e in catalogue" :key="e.id" :value="e.id" :label="e.name" />
        </el-select>
        <EquipmentFacts v-if="equipment" :equipment="equipment" :currency="home.site.currency" />
        <DeviceSettings
          v-if="board?.device && equipment"
          :key="board.device"
          :board="board"
          :boards="boards"
          :plan="plan"
          :home="home"
          :equipment="equipment"
          @gone="asked = ''"
        />
        <PutCircuits
          v-if="board && (cords || slots)"
          :home="home"
          :plan="plan"
          :spans="spans"
          :board="board"
          :count="count"
          :cords="cords"
          @change="send"
        />
        <PlaceBoard
          v-if="equipment"
          :equipment="equipment"
          :count="count"
          :home="home"
          :feeds="feeds"
          :whole="board?.whole_panel ?? false"
          :two-legs="board?.legs === 2"
          :selected="picked"
          :figures="figures"
          :spans="spans"
          :place-legs="board?.place_legs ?? []"
          :feed-legs="verdict?.feed_legs ?? {}"
          @select="picked = $event"
          @place="place"
        />
        <OpenedBreakers
          v-if="board?.whole_panel"
          :board="board"
          :plan="plan"
          :home="home"
          :selected="picked"
          @select="picked = $event"
        />
      </section>
      <RoomLeft v-if="verdict" class="room scroll" :verdict="verdict" :home="home" :plan="plan" @change="send" />
    </div>
    <ProposeDialog v-if="proposing" :device="board?.device ?? ''" @close="proposing = false" />
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
.asked {
  padding: 6px 2px;
}
.asked .btn {
  margin-right: 6px;
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
@media (min-width: 761px) and (max-width: 1250px) {
  .to {
    flex-basis: 300px;
  }
  .room {
    flex: 1 1 300px;
  }
}
@media (max-width: 760px) {
  .from,
  .to,
  .room {
    flex: none;
  }
}
</style>
