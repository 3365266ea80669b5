<script setup lang="ts">
import { useDebounce } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import type { Echo, Load } from '@/shared/api/types'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { noteReading, useSession } from '@/shared/session/session'
import { kwh } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import { useShortcuts } from '@/shared/shortcuts'
import PhotoReader from '@/shared/ui/PhotoReader.vue'
import Choice from '@/shared/ui/fields/Choice.vue'

/** The one text field: type what a label or a meter says; it is echoed before it is noted. */
const props = defineProps<{ loads: Load[] }>()
const { pair } = useSession()
const text = ref('')
const chosen = ref<string | null>(null)
const field = ref<HTMLInputElement>()
const settled = useDebounce(text, 180)

watch(
  () => props.loads.map((l) => l.id).join(),
  () => (chosen.value = props.loads[0]?.id ?? null),
  { immediate: true },
)
/** A line that begins with a name goes by it; else it is for the load that is picked. */
const named = computed(() => /^\s*[\p{L}][\p{L}'’ ,]*\s+[\d½¼¾(]/u.test(text.value) && !ROLES.test(text.value))
const settings = computed(() => Object.values(props.loads.find((l) => l.id === load.value)?.settings ?? {}))
const setting = ref('')
const photoOf = computed(() => props.loads.find((l) => l.id === load.value)?.name ?? '')
const season = ref<'any' | 'warm' | 'cold'>('any')
/** Where it was read: past the inverter W are the appliance's; at the battery its losses and idle come off. */
const side = ref<'appliance' | 'inverter' | 'battery'>('appliance')
watch(chosen, () => (setting.value = ''))
const ROLES =
  /^\s*(low|lowest|min|high|highest|max|idle|standby|start|starts|starting|surge|inrush|lra|now|reads|pf|ac|avg|average|running|runs)\b/i
const load = computed(() => (named.value ? null : chosen.value))

const echo = useHomeQuery('/api/homes/{home_id}/understand', {
  query: () => ({ text: settled.value, load: load.value, ...pair.value }),
  enabled: () => settled.value.trim().length > 0,
  followsEdits: false,
})
const said = computed<Required<Echo> | undefined>(() =>
  text.value.trim() && !echo.isError.value ? (echo.data.value as Required<Echo> | undefined) : undefined,
)
const spread = computed(() => {
  const average = said.value?.gives.find((g) => g.quantity === 'average_w')
  return average && average.value > 0 ? `Good to ±${Math.round((100 * average.sigma) / average.value)}%.` : ''
})
/** What was likely meant, each with what it comes to. */
const offers = computed<[string, string][]>(() => {
  const s = said.value
  const pairs: [string, string][] = s
    ? [
        [s.suggestion, s.says],
        [s.other, s.other_says],
      ]
    : []
  return pairs.filter(([offer]) => offer !== '')
})
/** The echo belongs to what is in the field now, and finds something wrong with it. */
const wrong = computed(() => settled.value === text.value && !!said.value?.problem)

function note() {
  if (!text.value.trim() || wrong.value) return
  noteReading({
    text: text.value.trim(),
    load: load.value,
    setting: setting.value,
    season: season.value,
    side: side.value,
  })
  text.value = ''
}
function take(suggestion: string) {
  text.value = suggestion
  field.value?.focus()
}
useShortcuts([{ keys: 'm', what: 'note a meter reading', run: () => field.value?.focus() }])
</script>

<template>
  <form novalidate class="reading" @submit.prevent="note">
    <div class="head">
      <label for="reading"
        >Reading <span class="soft small">type the figures from the meter or the label</span> <kbd>m</kbd></label
      >
      <span class="for">
        <template v-if="loads.length > 1 && !named">
          for
          <Choice v-model="chosen" label="For which load">
            <el-option v-for="l in loads" :key="l.id" :value="l.id" :label="l.name" />
          </Choice>
        </template>
        <Choice v-if="settings.length && !named" v-model="setting" label="Set to">
          <el-option value="" label="as usual" />
          <el-option v-for="s in settings" :key="s.id" :value="s.id" :label="s.name" />
        </Choice>
        <Choice v-model="side" label="Read at">
          <el-option value="appliance" label="at the appliance" />
          <el-option value="inverter" label="at the inverter’s output" />
          <el-option value="battery" label="at the battery" />
        </Choice>
        <Choice v-model="season" label="In which season">
          <el-option value="any" label="any season" />
          <el-option value="warm" label="warm season" />
          <el-option value="cold" label="cold season" />
        </Choice>
      </span>
    </div>
    <div class="row">
      <el-input
        id="reading"
        ref="field"
        v-model="text"
        autocomplete="off"
        placeholder="2.78 kWh in 48 h, low 4 W, high 131 W"
        aria-describedby="reading-echo"
      />
      <el-button native-type="submit" class="btn" :disabled="!text.trim()">Note</el-button>
      <PhotoReader what="load" :of="photoOf" @take="(_, line) => take(line)" />
    </div>
    <p id="reading-echo" class="echo" aria-live="polite">
      <template v-if="said?.echo">
        <b v-if="said.load">{{ said.load_name }}: </b>{{ said.echo }} {{ spread }}
        <template v-if="said.day_wh !== null">It then uses <Fig :text="kwh(said.day_wh)" /> per day. </template>
        <span v-for="n in said.notes" :key="n">{{ n }} </span>
      </template>
      <span v-else-if="echo.isError.value && text" class="problem"
        >The server isn’t responding. Imbuto keeps a reading here until it does.</span
      >
      <template v-else-if="said?.problem">
        <span class="problem">{{ said.problem }}</span>
        <template v-for="[offer, says] in offers" :key="offer">
          <el-button class="btn tiny" @click="take(offer)">{{ offer }}</el-button>
          <span class="soft">{{ says }} </span>
        </template>
      </template>
      <span v-else class="soft"
        >A label, a plug-in meter, a yearly figure, or a gauge: 600 W 3 h a day · 8 lamps at 11 W · 350 kWh/yr · 71 to
        58% in 9 h</span
      >
    </p>
  </form>
</template>

<style scoped>
.reading {
  margin-top: 16px;
  padding: 11px 14px 9px;
  border: 1px solid var(--line-strong);
  border-radius: 10px;
  background: var(--sheet);
}
.head {
  display: flex;
  justify-content: space-between;
  gap: 10px;
  flex-wrap: wrap;
}
label {
  font: 650 15px var(--head);
}
label span {
  font: 400 12.5px var(--text);
}
.for .choice {
  max-width: 150px;
  margin-left: 4px;
}
.row {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
  margin: 7px 0 5px;
}
.row .el-input {
  flex: 1;
  min-width: 0;
}
.echo {
  min-height: 38px;
  margin: 0;
  font-size: 13px;
  color: var(--stored-ink);
}
.problem {
  color: var(--ink);
}
@media (max-width: 760px) {
}
</style>
