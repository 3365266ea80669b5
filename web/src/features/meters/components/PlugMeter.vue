<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { InstrumentsView } from '@/shared/api/types'
import { noteReading, useSession } from '@/shared/session/session'
import { amount, hoursText, number, percent } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import type { Change } from '../instruments'
import Choice from '@/shared/ui/fields/Choice.vue'

/** The plug-in meter: plug a load in, watch it count, note what it says. */
const props = defineProps<{ seen: InstrumentsView }>()
const emit = defineEmits<{ set: [Change] }>()
const { home, verdict } = useSession()
const meter = computed(() => props.seen.meter)
const load = ref('')
const noted = ref('')
const pluggable = computed(() => Object.values(home.value?.loads ?? {}).filter((l) => !l.both_legs))
const next = computed(() => verdict.value?.measures.map((m) => m.load) ?? [])
const best = computed(() => pluggable.value.find((l) => l.id === next.value[0])?.id ?? pluggable.value[0]?.id ?? '')
watch(
  () => meter.value?.load,
  (id) => (load.value = id ?? load.value),
  { immediate: true },
)
const worth = computed(() => {
  const h = meter.value?.hours ?? 0
  const steady = home.value?.loads[meter.value?.load ?? '']?.use.kind === 'always'
  const spread = (h >= 24 ? 0.08 : h >= 6 ? 0.12 : h >= 2 ? 0.2 : 0.4) / (steady ? 3 : 1)
  return `Good to ±${percent(spread)}${h < 24 ? '; longer is better' : ''}.`
})

function note() {
  if (!meter.value?.text) return
  noteReading({ text: meter.value.text, load: meter.value.load })
  noted.value = `Noted for ${meter.value.name}: ${meter.value.text}`
}
</script>

<template>
  <section class="meter">
    <h2>Plug-in meter</h2>
    <div class="row">
      <Choice v-model="load" label="Load to plug in">
        <el-option value="" :label="`choose a load`" />
        <el-option
          v-for="l in pluggable"
          :key="l.id"
          :value="l.id"
          :label="`${l.name}${l.id === best ? ' (meter this next)' : ''}`"
        />
      </Choice>
      <el-button class="btn" :disabled="!load" @click="emit('set', { plug: load })">
        {{ meter ? 'From 0 again' : 'Plug in' }}
      </el-button>
      <el-button v-if="meter" class="btn" @click="emit('set', { unplug: true })">Take out</el-button>
    </div>
    <div class="face" :class="{ idle: !meter }">
      <template v-if="meter">
        <span class="name">{{ meter.name }}</span>
        <strong><Fig :text="`${number(meter.energy_kwh, 3)} kWh`" /></strong>
        <span>over <Fig :text="hoursText(meter.hours)" /></span>
        <dl>
          <dt>now</dt>
          <dd><Fig :text="`${amount(meter.now_w)} W`" /></dd>
          <dt>lowest</dt>
          <dd><Fig :text="`${amount(meter.lowest_w)} W`" /></dd>
          <dt>highest</dt>
          <dd><Fig :text="`${amount(meter.highest_w)} W`" /></dd>
          <dt>volts</dt>
          <dd><Fig :text="`${number(meter.volts)} V`" /></dd>
          <dt>amps</dt>
          <dd><Fig :text="`${number(meter.amps, 2)} A`" /></dd>
          <dt>power factor</dt>
          <dd>{{ number(meter.power_factor, 2) }}</dd>
        </dl>
      </template>
      <span v-else>Nothing is plugged in. Choose a load, then let the clock run fast.</span>
    </div>
    <template v-if="meter">
      <p class="soft small">{{ worth }} Because a meter samples, it misses starts under a second.</p>
      <el-button class="btn strong" :disabled="!meter.text" @click="note">Note this reading</el-button>
    </template>
    <p v-if="noted" role="status" class="small">{{ noted }}</p>
  </section>
</template>

<style scoped>
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 8px 0;
}
.choice {
  flex: 1 1 180px;
}
.face {
  display: grid;
  gap: 2px;
  max-width: 420px;
  padding: 16px 20px;
  border-radius: 14px 14px 40px 40px;
  background: var(--bar);
  color: var(--on-deep);
}
.face strong {
  font: 650 34px var(--head);
}
.idle {
  color: var(--on-deep-soft);
}
.name {
  color: var(--on-deep-soft);
}
dl {
  display: grid;
  grid-template-columns: repeat(6, auto);
  gap: 4px 10px;
  margin: 10px 0 0;
}
dt {
  color: var(--on-deep-soft);
}
dd {
  margin: 0;
}
</style>
