<script setup lang="ts">
import { computed } from 'vue'
import type { ChannelView } from '@/shared/api/types'
import { useSession } from '@/shared/session'
import { amount, number, percent, watts } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import LogDrawing from '@/shared/ui/LogDrawing.vue'
import type { Mapping } from '../importing'

/** One channel of a file: drawn, told in words, and put where it belongs. */
defineProps<{ channel: ChannelView }>()
const to = defineModel<Mapping>({ required: true })
const { home } = useSession()
const SHAPES: Record<string, string> = {
  steady: 'steady',
  cycling: 'cycles',
  events: 'runs now and then',
  varying: 'varies',
  profile: 'averages only',
}
const settings = computed(() => Object.values(home.value?.loads[to.value.load]?.settings ?? {}))
const target = computed({
  get: () =>
    to.value.load ? `load ${to.value.load}` : to.value.circuit ? `circuit ${to.value.circuit}` : to.value.home,
  set: (text: string) => {
    const [kind, ...rest] = text.split(' ')
    const id = rest.join(' ')
    to.value = {
      ...to.value,
      load: kind === 'load' ? id : '',
      circuit: kind === 'circuit' ? id : '',
      home: kind === 'home' ? 'home' : '',
      setting: '',
    }
  },
})
const change = (part: Partial<Mapping>) => (to.value = { ...to.value, ...part })
const text = (event: Event) => (event.target as HTMLSelectElement).value
</script>

<template>
  <section class="channel">
    <LogDrawing :channel="channel" :zone="home?.site.time_zone ?? 'UTC'" />
    <h3>
      {{ channel.name }} <span v-if="channel.shape" class="soft small">{{ SHAPES[channel.shape] }}</span>
    </h3>
    <p v-if="channel.problem" class="problem">{{ channel.problem }}</p>
    <p v-else>
      <Fig :text="`${amount(channel.average_w)} W`" /> average over
      <Fig :text="`${number(channel.hours)} h`" /><template v-if="channel.parts.length"
        >, rests at <Fig :text="`${amount(channel.rest_w)} W`" />, runs
        <template v-if="channel.run_seen">at <Fig :text="watts(channel.run_w)" /></template> for
        <Fig :text="percent(channel.duty)" /> of the time, starts
        <Fig :text="`${amount(channel.starts_a_day)} × a day`" /></template
      >, highest <Fig :text="watts(channel.highest_w)" /><template v-if="channel.gaps"
        >; <Fig :text="`${channel.gaps} ×`" /> a gap, not filled</template
      >.
      <span v-if="channel.parts.length && !channel.run_seen" class="soft">
        Its runs are shorter than the log’s steps, so what it draws while running is not seen here.
      </span>
      <span v-for="p in channel.parts.slice(1, 4)" :key="p.w" class="soft">
        Also a {{ p.kind }} of <Fig :text="watts(p.w)" />, <Fig :text="`${amount(p.starts_a_day)} × a day`" />.
      </span>
    </p>
    <div v-if="!channel.problem" class="to">
      <label>
        this is
        <select v-model="target" :aria-label="`What ${channel.name} was measured at`">
          <option value="">not kept</option>
          <option value="home">the whole house</option>
          <optgroup label="Loads">
            <option v-for="l in home?.loads" :key="l.id" :value="`load ${l.id}`">{{ l.name }}</option>
          </optgroup>
          <optgroup v-if="home?.service.slots" label="Circuits">
            <option v-for="c in home?.circuits" :key="c.id" :value="`circuit ${c.id}`">
              {{ c.slots.join('·') }} {{ c.name }}
            </option>
          </optgroup>
        </select>
      </label>
      <template v-if="target">
        <label>
          measured at the
          <select :value="to.side" @change="change({ side: text($event) as Mapping['side'] })">
            <option value="appliance">appliance or circuit</option>
            <option value="inverter">inverter’s output</option>
            <option value="battery">battery</option>
          </select>
        </label>
        <label>
          in
          <select :value="to.season" @change="change({ season: text($event) as Mapping['season'] })">
            <option value="any">no special season</option>
            <option value="warm">the warm season</option>
            <option value="cold">the cold season</option>
          </select>
        </label>
        <label v-if="settings.length">
          set to
          <select :value="to.setting" @change="change({ setting: text($event) })">
            <option value="">as usual</option>
            <option v-for="s in settings" :key="s.id" :value="s.id">{{ s.name }}</option>
          </select>
        </label>
      </template>
    </div>
  </section>
</template>

<style scoped>
.channel {
  padding: 12px 0;
  border-top: 1px solid var(--line);
}
h3 {
  margin-top: 6px;
}
p {
  margin: 2px 0 6px;
}
.to {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 14px;
  color: var(--soft);
}
select {
  max-width: 210px;
  min-height: 32px;
  border: 1px solid var(--line-strong);
  border-radius: 7px;
  background: var(--sheet);
  color: var(--ink);
  font: inherit;
}
.problem {
  padding: 6px 10px;
  border-left: 5px solid var(--dark);
}
</style>
