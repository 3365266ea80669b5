<script setup lang="ts">
import { escape } from '@/shared/session/patch'
import { useLocalStorage } from '@vueuse/core'
import { computed } from 'vue'
import { uniqueId } from '@/shared/ids'
import type { LiveView, PlaceLive } from '@/shared/api/types'
import { edit } from '@/shared/session/session'
import { clock, number } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'

/** Switch positions now, place by place. A tick notes what a hand has done at the switch; nothing is switched from here. */
const props = defineProps<{
  places: LiveView['places']
  cold: LiveView['cold']
  switched: NonNullable<NonNullable<LiveView['live']>['switched']>
  now: () => string
}>()
/** As the server has it, with what was ticked here since. */
const shown = computed(() =>
  props.places.map((p) => {
    const own = Object.values(props.switched).filter((s) => s.feed === p.feed)
    const last = own.sort((a, b) => a.at.localeCompare(b.at)).at(-1)
    return last
      ? { ...p, on: last.on, noted: `${last.who || 'someone'}, ${clock(last.at)}` }
      : { ...p, on: true, noted: '' }
  }),
)
const who = useLocalStorage('imbuto.who', '')
function noted(p: PlaceLive) {
  const id = `s-${uniqueId()}`
  const value = { id, feed: p.feed, on: !p.on, at: props.now(), who: who.value }
  edit(`${p.name}: switched ${p.on ? 'off' : 'over'} by hand`, [
    { doc: 'home', op: 'add', path: `/live/switched/${escape(id)}`, value },
  ])
}
function opened(load: string, minutes: number) {
  const id = `o-${uniqueId()}`
  edit('A door opened', [
    { doc: 'home', op: 'add', path: `/live/opened/${escape(id)}`, value: { id, load, at: props.now(), minutes } },
  ])
}
const devices = () => [...new Set(props.places.map((p) => p.device))]
</script>

<template>
  <h2 class="third">Switch positions now</h2>
  <p class="soft">
    Positions are as planned until someone notes a change. A tick records what a person did. Imbuto switches nothing.
  </p>
  <label class="who"
    >Noted by <el-input v-model="who" maxlength="60" autocomplete="off" placeholder="your name"
  /></label>
  <template v-for="d in devices()" :key="d">
    <h4 v-if="devices().length > 1">{{ d }}</h4>
    <ol>
      <li v-for="p in shown.filter((x) => x.device === d)" :key="p.feed" :class="{ off: !p.on }">
        <el-checkbox
          v-if="p.by_hand"
          class="tick"
          :model-value="p.on"
          :aria-label="`${p.name} is over to the source`"
          @change="noted(p)"
          ><span class="place">{{ p.place }}</span> <b>{{ p.name }}</b></el-checkbox
        >
        <span v-else class="tick"
          ><span class="place">{{ p.place }}</span> <b>{{ p.name }}</b> <small class="soft">by itself</small></span
        >
        <small>
          {{ p.on ? 'on' : 'off' }}, planned <Fig :text="`${number(p.planned_w)} W`" />
          <template v-if="p.noted"> · {{ p.noted }}</template>
          <template v-if="p.steps_w != null">
            · the meter changed by <Fig :text="`${number(p.steps_w)} W`" />
          </template>
          <strong v-if="p.says"> · {{ p.says }}.</strong>
        </small>
      </li>
    </ol>
  </template>
  <template v-if="cold.length">
    <h2 class="third">Cold food without power</h2>
    <ul>
      <li v-for="c in cold" :key="c.load">
        <b>{{ c.name }}</b>
        <small>
          off since {{ clock(c.off_since)
          }}<template v-if="c.limit_at">; past its limit by {{ clock(c.limit_at) }}</template
          ><template v-else>; the room is cold enough</template>.
          <template v-if="c.opened"> Its door was open {{ number(c.opened) }} m.</template>
        </small>
        <el-button
          class="link small"
          :aria-label="`${c.name}: its door was opened for a minute`"
          @click="opened(c.load, 1)"
        >
          opened, a minute
        </el-button>
      </li>
    </ul>
    <p class="soft">Keep the doors closed. Trust the thermometer, never the smell.</p>
  </template>
</template>

<style scoped>
.third {
  margin: 14px 0 6px;
}
h4 {
  margin: 8px 0 2px;
}
ol,
ul {
  margin: 4px 0;
  padding: 0;
  list-style: none;
}
li {
  padding: 4px 0;
  border-bottom: 1px solid var(--line);
}
li small {
  display: block;
}
ol li {
  display: flex;
  flex-wrap: wrap;
  gap: 0 12px;
  align-items: center;
}
.tick {
  display: inline-flex;
  gap: 8px;
  align-items: center;
  min-height: 32px;
  margin: 0;
  padding: 0;
}
.place {
  width: 1.4em;
  height: auto;
  padding: 0;
  text-align: right;
  font-variant-numeric: tabular-nums;
}
.off b {
  text-decoration: line-through;
}
.who .el-input {
  margin-left: 6px;
}
</style>
