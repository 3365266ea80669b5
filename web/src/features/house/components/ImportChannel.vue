<script setup lang="ts">
import { computed } from 'vue'
import type { ChannelView } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import { amount, number, percent, watts } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import LogDrawing from '@/shared/ui/LogDrawing.vue'
import type { Mapping } from '../importing'
import Choice from '@/shared/ui/fields/Choice.vue'

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
        >, standby <Fig :text="`${amount(channel.rest_w)} W`" />, runs
        <template v-if="channel.run_seen">at <Fig :text="watts(channel.run_w)" /></template> for
        <Fig :text="percent(channel.duty)" /> of the time, starts
        <Fig :text="`${amount(channel.starts_a_day)} ×`" /> per day</template
      >, highest <Fig :text="watts(channel.highest_w)" /><template v-if="channel.gaps"
        >; <Fig :text="`${channel.gaps} ×`" /> a gap, not filled</template
      >.
      <span v-if="channel.parts.length && !channel.run_seen" class="soft">
        Its runs are shorter than the log’s steps, so this log doesn’t show its running watts.
      </span>
      <span v-for="p in channel.parts.slice(1, 4)" :key="p.w" class="soft">
        Also a {{ p.kind }} of <Fig :text="watts(p.w)" />, <Fig :text="`${amount(p.starts_a_day)} ×`" /> per day.
      </span>
    </p>
    <div v-if="!channel.problem" class="to">
      <label>
        this is
        <Choice v-model="target" :label="`What ${channel.name} was measured at`">
          <el-option value="" label="not kept" />
          <el-option value="home" label="the whole house" />
          <el-option-group label="Loads">
            <el-option v-for="l in home?.loads" :key="l.id" :value="`load ${l.id}`" :label="l.name" />
          </el-option-group>
          <el-option-group v-if="home?.service.slots" label="Circuits">
            <el-option
              v-for="c in home?.circuits"
              :key="c.id"
              :value="`circuit ${c.id}`"
              :label="`${c.slots.join('·')} ${c.name}`"
            />
          </el-option-group>
        </Choice>
      </label>
      <template v-if="target">
        <label>
          measured at the
          <Choice :model-value="to.side" label="measured at the" @change="change({ side: $event as Mapping['side'] })">
            <el-option value="appliance" label="appliance or circuit" />
            <el-option value="inverter" label="inverter’s output" />
            <el-option value="battery" label="battery" />
          </Choice>
        </label>
        <label>
          in
          <Choice :model-value="to.season" label="in" @change="change({ season: $event as Mapping['season'] })">
            <el-option value="any" label="no special season" />
            <el-option value="warm" label="the warm season" />
            <el-option value="cold" label="the cold season" />
          </Choice>
        </label>
        <label v-if="settings.length">
          set to
          <Choice :model-value="to.setting" label="set to" @change="change({ setting: $event })">
            <el-option value="" label="as usual" />
            <el-option v-for="s in settings" :key="s.id" :value="s.id" :label="s.name" />
          </Choice>
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
.choice {
  max-width: 210px;
}
.problem {
  padding: 6px 10px;
  border-left: 5px solid var(--dark);
}
</style>
