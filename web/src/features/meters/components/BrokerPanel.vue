<script setup lang="ts">
import { useIntervalFn } from '@vueuse/core'
import { computed, onMounted, reactive, ref, shallowRef } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { BrokerView, PickBody } from '@/shared/api/types'
import { noteFromBroker, useSession } from '@/shared/session/session'
import { amount, hoursText, kwh } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** Instruments of one's own that speak MQTT: the broker, the numbers on it, and what is taken of them. */
const { state, home, plan } = useSession()
const seen = shallowRef<BrokerView | null>(null)
const problem = ref('')
const busy = ref(false)
const editing = ref(false)
const search = ref('')
const POLL_MS = 2000
const MOST_ROWS = 30
const path = () => ({ home_id: state.value?.id ?? '' })
const form = reactive({ host: '', port: 1883, tls: false, user: '', password: '' })
/** The number that was clicked, and what it is told to be. */
const picked = ref<{ topic: string; path: string } | null>(null)
const meaning = ref<PickBody['meaning'] | ''>('')
const whose = ref('')

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

async function connect() {
  const body = { ...form, host: form.host.trim() }
  if (await take(answer(api.POST('/api/homes/{home_id}/broker', { params: { path: path() }, body })))) {
    editing.value = false
    form.password = ''
  }
}
function fillDemo() {
  const [host = '', port = ''] = (seen.value?.demo ?? '').split(':')
  Object.assign(form, { host, port: Number(port), tls: false, user: '', password: '' })
}
const disconnect = () => take(answer(api.DELETE('/api/homes/{home_id}/broker', { params: { path: path() } })))

const topics = computed(() => {
  const words = search.value.toLowerCase().trim()
  const all = (seen.value?.topics ?? []).filter((t) => `${t.topic} ${t.path}`.toLowerCase().includes(words))
  return all.slice(0, MOST_ROWS)
})
const hidden = computed(() => (seen.value?.topics.length ?? 0) - topics.value.length)
const MEANINGS: { value: PickBody['meaning']; text: string }[] = [
  { value: 'W', text: 'power in W' },
  { value: 'Wh', text: 'a counter of energy' },
  { value: 'V', text: 'volts' },
  { value: 'A', text: 'amps' },
  { value: '%', text: 'a battery’s charge in %' },
]
const targets = computed(() => {
  const found: { value: string; text: string }[] = []
  const stations = Object.values(plan.value?.sources ?? {})
  if (meaning.value === '%')
    return stations.map((s) => ({ value: `station_charge:${s.id}`, text: `charge of ${s.station}` }))
  found.push({ value: 'home:', text: 'the whole house' })
  for (const l of Object.values(home.value?.loads ?? {})) found.push({ value: `load:${l.id}`, text: l.name })
  for (const c of Object.values(home.value?.circuits ?? {}))
    found.push({ value: `circuit:${c.id}`, text: `circuit ${c.name}` })
  if (meaning.value === 'W')
    for (const s of stations)
      found.push(
        { value: `station_out:${s.id}`, text: `output of ${s.station}` },
        { value: `station_in:${s.id}`, text: `input of ${s.station}` },
      )
  return found
})
function pick(t: BrokerView['topics'][number]) {
  picked.value = { topic: t.topic, path: t.path }
  meaning.value = (t.guess as PickBody['meaning']) || ''
  whose.value = ''
}
async function takeValue() {
  const [kind = '', target = ''] = whose.value.split(':')
  if (!picked.value || !meaning.value || !kind) return
  const body = { ...picked.value, meaning: meaning.value, kind, target } as PickBody
  if (await take(answer(api.POST('/api/homes/{home_id}/broker/picks', { params: { path: path() }, body }))))
    picked.value = null
}
const drop = (id: string) =>
  take(
    answer(api.DELETE('/api/homes/{home_id}/broker/picks/{pick_id}', { params: { path: { ...path(), pick_id: id } } })),
  )
const shown = (value: number, unit: string) => `${amount(value)} ${unit === 'Wh' ? 'Wh' : unit}`.trim()
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
          Nothing has come in for <Fig :text="hoursText(Math.max(seen.since_s, 60) / 3600)" />; Imbuto fills in nothing.
        </span>
        <el-button class="link" @click="disconnect">Disconnect</el-button>
      </p>
      <el-button v-else-if="!editing" class="btn" @click="editing = true">Connect a broker</el-button>
      <form v-if="editing && seen.state === 'off'" class="address" novalidate @submit.prevent="connect">
        <label for="b-host">Name or address</label
        ><el-input id="b-host" v-model="form.host" placeholder="192.168.1.20" />
        <label for="b-port">Port</label>
        <el-input-number id="b-port" v-model="form.port" :min="1" :max="65535" :controls="false" />
        <label for="b-user">User, if it asks for one</label
        ><el-input id="b-user" v-model="form.user" autocomplete="off" />
        <label for="b-pass">Password</label>
        <el-input id="b-pass" v-model="form.password" type="password" autocomplete="off" />
        <el-checkbox v-model="form.tls">Encrypted (TLS)</el-checkbox>
        <p class="soft small">The password stays on this computer and is in no backup.</p>
        <div class="acts">
          <el-button native-type="submit" class="btn strong" :disabled="busy || !form.host.trim()">Connect</el-button>
          <el-button v-if="seen.demo" class="btn" @click="fillDemo">Use the demo’s broker</el-button>
          <el-button class="btn" @click="editing = false">Cancel</el-button>
        </div>
      </form>
      <template v-if="seen.picks.length">
        <h3>Taken</h3>
        <ul class="picks">
          <li v-for="p in seen.picks" :key="p.id">
            <b>{{ p.of }}</b>
            <span v-if="p.now !== null"><Fig :text="shown(p.now, p.meaning)" /></span>
            <span v-else class="silent">no value now</span>
            <svg viewBox="0 0 120 20" role="img" :aria-label="`The last hour of ${p.of}`" preserveAspectRatio="none">
              <rect v-for="b in bars(p.minutes)" :key="b.x" :x="b.x" :y="20 - b.h" width="1.6" :height="b.h" />
            </svg>
            <small class="soft">
              <Fig :text="hoursText(p.hours)" /> of values<template v-if="p.gap_hours >= 1 / 60"
                >, gaps of <Fig :text="hoursText(p.gap_hours)" /></template
              ><template v-if="p.energy_wh !== null">, <Fig :text="kwh(p.energy_wh)" /></template
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
        <p v-if="!seen.topics.length" class="soft" role="status">Waiting for a first message…</p>
        <template v-else>
          <el-input
            v-model="search"
            aria-label="Search the topics"
            placeholder="Search: plug, power, soc"
            class="search"
          />
          <ul class="topics">
            <li v-for="t in topics" :key="`${t.topic} ${t.path}`">
              <el-button
                class="topic"
                :aria-pressed="picked?.topic === t.topic && picked.path === t.path"
                @click="pick(t)"
              >
                <span
                  >{{ t.topic }}<template v-if="t.path"> · {{ t.path }}</template></span
                >
                <Fig :text="shown(t.value, t.unit || t.guess)" />
              </el-button>
              <form
                v-if="picked?.topic === t.topic && picked.path === t.path"
                class="meaning"
                @submit.prevent="takeValue"
              >
                <el-select v-model="meaning" aria-label="What it is" placeholder="What is it?" @change="whose = ''">
                  <el-option v-for="m in MEANINGS" :key="m.value" :value="m.value" :label="m.text" />
                </el-select>
                <el-select
                  v-model="whose"
                  filterable
                  aria-label="Whose it is"
                  placeholder="Of what?"
                  :disabled="!meaning"
                >
                  <el-option v-for="x in targets" :key="x.value" :value="x.value" :label="x.text" />
                </el-select>
                <el-button native-type="submit" class="btn strong" :disabled="!meaning || !whose || busy"
                  >Take this value</el-button
                >
              </form>
            </li>
          </ul>
          <p v-if="hidden > 0" class="soft small">{{ hidden }} more. Search for them by name.</p>
          <p v-if="seen.beyond" class="soft small">The broker has more numbers than Imbuto lists.</p>
        </template>
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
.address {
  display: grid;
  grid-template-columns: max-content minmax(0, 300px);
  gap: 8px 12px;
  align-items: center;
}
.address p,
.address .acts {
  grid-column: 1 / -1;
  margin: 0;
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
.search {
  max-width: 300px;
}
.topics {
  max-height: 320px;
  overflow: auto;
}
.topic {
  display: flex;
  width: 100%;
  min-height: 30px;
  justify-content: space-between;
  padding: 2px 8px;
  border-top: 1px solid var(--line);
  text-align: left;
}
.topic :deep(> span) {
  display: flex;
  width: 100%;
  gap: 12px;
  justify-content: space-between;
}
.topic[aria-pressed='true'] {
  background: var(--well);
  font-weight: 650;
}
.meaning {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  padding: 8px;
  background: var(--well);
}
.meaning .el-select {
  flex: 1 1 180px;
}
@media (max-width: 760px) {
  .picks li {
    grid-template-columns: 1fr 1fr;
  }
  .topic {
    min-height: 44px;
  }
}
</style>
