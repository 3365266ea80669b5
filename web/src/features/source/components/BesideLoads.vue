<script setup lang="ts">
import { computed } from 'vue'
import type { Feed, Home, Op, Plan, Source, Station } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { escape } from '@/shared/session/patch'
import { edit } from '@/shared/session/session'
import { amount } from '@/shared/units/format'
import Choice from '@/shared/ui/fields/Choice.vue'

/** What hangs on the cords of a station that stands beside the first one. */
const props = defineProps<{ plan: Plan; home: Home; source: Source; station: Station }>()
const feeds = computed(() => Object.values(props.plan.feeds).filter((f) => f.source === props.source.id && f.load))
const fed = computed(() => new Set(Object.values(props.plan.feeds).map((f) => f.load)))
const free = computed(() => Object.values(props.home.loads).filter((x) => !fed.value.has(x.id) && !x.both_legs))

function add(picked: string) {
  const load = props.home.loads[picked]
  if (!load) return
  const used = feeds.value.map((f) => f.place)
  const id = freshId(`cord-${load.id}`.slice(0, 56), Object.values(props.plan.feeds))
  const value: Feed = {
    id,
    source: props.source.id,
    circuit: null,
    load: load.id,
    port: 'ac',
    port_v: 0,
    device: null,
    place: Array.from({ length: 60 }, (_, i) => i + 1).find((p) => !used.includes(p)) ?? 1,
    stance: 'keep_on',
    windows: [],
    share: 0.5,
    turn_by: 'clock',
    above: 0.5,
    cord: null,
  }
  edit(`${load.name} on ${props.station.name}`, [
    { doc: props.plan.id, op: 'add', path: `/feeds/${escape(id)}`, value },
  ])
}
const behind = computed(() =>
  Object.values(props.plan.feeds)
    .filter((f) => f.source !== props.source.id && !props.plan.sources[f.source]?.plugged_into)
    .map((f) => ({
      id: f.id,
      name: props.home.circuits[f.circuit ?? '']?.name ?? props.home.loads[f.load ?? '']?.name,
    })),
)
function which(first: string) {
  const own = first === 'own'
  edit(`${props.station.name} ${own ? 'runs on its own battery first' : 'takes from the first one first'}`, [
    {
      doc: props.plan.id,
      op: 'add',
      path: `/sources/${escape(props.source.id)}/own_first`,
      value: own,
    },
  ])
}
function plug(behindWhat: string) {
  const id = behindWhat || null
  const name = behind.value.find((b) => b.id === id)?.name
  edit(`${props.station.name} ${id ? `plugged in at ${name}` : 'stands alone'}`, [
    {
      doc: props.plan.id,
      op: 'replace',
      path: `/sources/${escape(props.source.id)}/plugged_into`,
      value: id,
    },
  ])
}
/** A load made for low voltage, past the inverter. */
function port(feed: Feed, to: string) {
  const name = props.home.loads[feed.load ?? '']?.name ?? 'Load'
  const at = `/feeds/${escape(feed.id)}` as const
  edit(`${name} on ${ports.value.find((p) => p.id === to)?.words ?? to}`, [
    { doc: props.plan.id, op: 'replace', path: `${at}/port`, value: to === 'ac' ? 'ac' : 'dc' },
    { doc: props.plan.id, op: 'replace', path: `${at}/port_v`, value: to === 'ac' ? 0 : Number(to) },
  ])
}
/** Its outlets by kind: AC, and DC by volts. */
const ports = computed(() => {
  const more = (props.station.dc_ports || '').split(';').flatMap((row) => row.split(':')[0]?.trim() || [])
  const dc = [...(props.station.dc_port_v ? ['0'] : []), ...more]
  const volts = (v: string) => (v === '0' ? props.station.dc_port_v : Number(v))
  const words = (v: string) => (volts(v) === 5 ? 'USB' : `a ${amount(volts(v))} V port`)
  return [{ id: 'ac', words: 'an AC outlet' }, ...dc.map((v) => ({ id: v, words: words(v) }))]
})
const portOf = (feed: Feed) => (feed.port === 'ac' ? 'ac' : String(feed.port_v))
function drop(feed: Feed) {
  const op: Op = { doc: props.plan.id, op: 'remove', path: `/feeds/${escape(feed.id)}` }
  edit(`${props.home.loads[feed.load ?? '']?.name ?? 'Load'} off ${props.station.name}`, [op])
}
</script>

<template>
  <section class="fields">
    <h3>On its cords</h3>
    <ul v-if="feeds.length">
      <li v-for="f in feeds" :key="f.id">
        <span>{{ home.loads[f.load ?? '']?.name }}</span>
        <small v-if="f.port === 'ac'" class="soft">outlet {{ f.place }}</small>
        <Choice
          v-if="ports.length > 1"
          :model-value="portOf(f)"
          :label="`Where ${home.loads[f.load ?? '']?.name} is plugged in`"
          @change="port(f, $event)"
        >
          <el-option v-for="p in ports" :key="p.id" :value="p.id" :label="p.words" />
        </Choice>
        <el-button class="link small" @click="drop(f)">remove</el-button>
      </li>
    </ul>
    <p v-else class="soft small">
      Nothing yet. Loads you add here are unplugged from the wall and from the other station.
    </p>
    <el-select
      model-value=""
      placeholder="Add a load…"
      filterable
      aria-label="Add a load to its cords"
      @update:model-value="add"
    >
      <el-option v-for="x in free" :key="x.id" :value="x.id" :label="x.name" />
    </el-select>
    <label class="behind"
      >Plugged in
      <Choice :model-value="source.plugged_into ?? ''" label="Plugged in behind" @change="plug">
        <el-option value="" label="nothing in an outage, so it runs alone" />
        <el-option v-for="b in behind" :key="b.id" :value="b.id" :label="`at ${b.name}`" /> </Choice
    ></label>
    <label v-if="source.plugged_into" class="behind"
      >It
      <Choice :model-value="source.own_first ? 'own' : 'up'" label="Which battery first" @change="which">
        <el-option value="up" label="that one first" />
        <el-option value="own" label="this one first" /> </Choice
    ></label>
    <p v-if="source.plugged_into && source.own_first" class="soft small">
      This station powers its appliances until its own battery is at the stop level, and then passes on the first
      station’s power.
    </p>
    <p v-else-if="source.plugged_into" class="soft small">
      This station treats the first one as the grid: it passes on its power, and starts on its own battery when that one
      runs out. Turn off its charger, or it charges from the other battery and loses energy in every conversion.
    </p>
    <p class="soft small">
      Its appliances are on cords, one plug each. To power circuits, it needs its own device under What to power,
      because two stations that aren’t synchronized must never share a neutral.
    </p>
  </section>
</template>

<style scoped>
section {
  margin: 12px 0;
}
ul {
  margin: 4px 0;
  padding: 0;
  list-style: none;
}
li .choice {
  width: 140px;
}
li {
  display: flex;
  gap: 8px;
  align-items: baseline;
  padding: 2px 0;
}
li span {
  flex: 1;
}
.behind {
  display: grid;
  gap: 2px;
  margin-top: 8px;
  color: var(--soft);
  font-size: 13px;
}
.choice {
  width: 100%;
}
p {
  margin: 4px 0;
}
</style>
