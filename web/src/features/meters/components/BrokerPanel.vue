<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { onMounted, ref, shallowRef } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { BrokerBody, BrokerView, PickBody } from '@/shared/api/types'
import { noteFromBroker, useSession } from '@/shared/session/session'
import { hoursText, kwh } from '@/shared/units/format'
import { withUnit } from '@/shared/units/withUnit'
import Fig from '@/shared/ui/Fig.vue'
import BrokerAddress from './BrokerAddress.vue'
import BrokerTopics from './BrokerTopics.vue'

/** Instruments of one's own that speak MQTT: the broker, the numbers on it, and what is taken of them. */
const { state } = useSession()
const seen = shallowRef<BrokerView | null>(null)
const problem = ref('')
const busy = ref(false)
const editing = ref(false)
const POLL_MS = 2000
const path = () => ({ home_id: state.value?.id ?? '' })
async function take(call: Promise<BrokerView>) {
  busy.value = true
  try {
    seen.value = await call
    problem.value = ''
    return true
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
    return false
  } finally {
    busy.value = false
  }
}
async function read() {
  try {
    seen.value = await answer(api.GET('/api/homes/{home_id}/broker', { params: { path: path() } }))
  } catch (error) {
    // The bar says that the server is away; what is shown here is then old.
    seen.value = seen.value && { ...seen.value, state: 'lost', said: error instanceof Error ? error.message : '' }
  }
}
onMounted(read)
useIntervalFn(() => void read(), POLL_MS)

async function connect(body: BrokerBody) {
  if (await take(answer(api.POST('/api/homes/{home_id}/broker', { params: { path: path() }, body }))))
    editing.value = false
}
const disconnect = () => take(answer(api.DELETE('/api/homes/{home_id}/broker', { params: { path: path() } })))

const pick = (body: PickBody, done: () => void) =>
  void take(answer(api.POST('/api/homes/{home_id}/broker/picks', { params: { path: path() }, body }))).then(
    (taken) => taken && done(),
  )
const drop = (id: string) =>
  take(
    answer(api.DELETE('/api/homes/{home_id}/broker/picks/{pick_id}', { params: { path: { ...path(), pick_id: id } } })),
  )
const csv = (id: string) => `/api/homes/${state.value?.id ?? ''}/broker/picks/${id}/log.csv`
/** The last hour as bars; a minute without a value is a gap. */
function bars(minutes: (number | null)[]) {
  const most = Math.max(1, ...minutes.map((m) => m ?? 0))
  return minutes.map((m, i) => ({ x: i * 2, h: m === null ? 0 : Math.max(0.5, (18 * m) / most) }))
}
const STATES = {
  off: 'Not connected',
  connecting: 'Connecting…',
  connected: 'Connected',
  lost: 'Connection lost',
} as const
</script>

<template>
  <section v-if="seen" class="broker" aria-label="Your own instruments">
    <h2>Your own instruments</h2>
    <p class="soft">
      Plugs, panel monitors and stations that publish over MQTT on your own network. Imbuto only listens: it switches
      nothing.
    </p>
    <p v-if="!seen.allowed" class="soft">
      Imbuto was started without <code>--broker</code>, so it contacts nothing. Start it with
      <code>imbuto serve --broker</code> to connect one.
    </p>
    <template v-else>
      <p v-if="problem" role="alert">{{ problem }}</p>
      <p v-if="seen.state !== 'off'" class="state" aria-live="polite">
        <b>{{ STATES[seen.state] }}</b> {{ seen.host }}:{{ seen.port }}
        <span v-if="seen.said" role="alert">{{ seen.said }}</span>
        <span v-if="seen.state === 'lost'">
          <template v-if="seen.since_s >= 60"
            >Nothing has come in for <Fig :text="hoursText(seen.since_s / 3600)" />. </template
          >Imbuto fills in nothing.
        </span>
        <el-button class="link" @click="disconnect">Disconnect</el-button>
      </p>
      <el-button v-else-if="!editing" class="btn" @click="editing = true">Connect a broker</el-button>
      <BrokerAddress
        v-if="editing && seen.state === 'off'"
        :demo="seen.demo"
        :busy="busy"
        @connect="connect"
        @cancel="editing = false"
      />
      <template v-if="seen.picks.length">
        <h3>Taken</h3>
        <ul class="picks">
          <li v-for="p in seen.picks" :key="p.id">
            <b>{{ p.of }}</b>
            <span v-if="p.now !== null"><Fig :text="withUnit(p.now, p.meaning)" /></span>
            <span v-else class="silent">no value now</span>
            <svg viewBox="0 0 120 20" role="img" :aria-label="`The last hour of ${p.of}`" preserveAspectRatio="none">
              <rect v-for="b in bars(p.minutes)" :key="b.x" :x="b.x" :y="20 - b.h" width="1.6" :height="b.h" />
            </svg>
            <small class="soft">
              <Fig :text="hoursText(p.hours)" /> of values<template v-if="p.gap_hours >= 1 / 60"
                >, gaps of <Fig :text="hoursText(p.gap_hours)" /></template
              ><template v-if="p.energy_wh !== null">, <Fig :text="kwh(p.energy_wh)" /></template
              ><template v-if="p.kind === 'energy'">, kept for Everyday each quarter hour</template
              ><template v-if="p.kind === 'load' && p.start_at_least"
                >, highest <Fig :text="withUnit(p.start_at_least, 'W')" />; a start’s peak may be higher, and this
                instrument is too slow to see it</template
              ><template v-if="p.resets">, counter began again {{ p.resets }} ×</template>
            </small>
            <span class="acts">
              <el-button
                v-if="['load', 'circuit', 'home'].includes(p.kind) && p.energy_wh !== null"
                class="btn tiny"
                :disabled="p.hours < 0.5"
                :title="p.hours < 0.5 ? 'Half an hour of values is needed' : ''"
                @click="noteFromBroker(p.id)"
                >Note for {{ p.of }}</el-button
              >
              <a class="link small" :href="csv(p.id)" download>CSV</a>
              <el-button class="link small" :aria-label="`Remove ${p.of}, ${p.topic}`" @click="drop(p.id)"
                >remove</el-button
              >
            </span>
          </li>
        </ul>
      </template>
      <template v-if="seen.state === 'connected'">
        <h3>On the broker</h3>
        <BrokerTopics :seen="seen" :busy="busy" @pick="pick" />
      </template>
    </template>
  </section>
</template>

<style scoped>
.broker {
  max-width: 760px;
  margin: 0 0 18px;
  padding-bottom: 12px;
  border-bottom: 1px solid var(--line);
}
.broker h2 + p {
  margin: 4px 0 8px;
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  align-items: center;
}
.state {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 10px;
  align-items: baseline;
}
ul {
  margin: 6px 0;
  padding: 0;
  list-style: none;
}
.picks li {
  display: grid;
  grid-template-columns: minmax(0, 1fr) max-content 130px;
  gap: 4px 12px;
  align-items: center;
  padding: 6px 0;
  border-top: 1px solid var(--line);
}
.picks small {
  grid-column: 1;
}
.picks .acts {
  grid-column: 2 / -1;
  justify-content: flex-end;
}
.picks svg {
  width: 100%;
  height: 20px;
  background: var(--well);
}
.picks rect {
  fill: var(--stored);
}
.silent {
  color: var(--dark);
}
@media (max-width: 760px) {
  .picks li {
    grid-template-columns: 1fr 1fr;
  }
}
</style>
