<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { Op, PinStance, ProposalView } from '@/shared/api/types'
import { edit, useSession } from '@/shared/session/session'
import { hoursText, number, parseNumber } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import Choice from '@/shared/ui/fields/Choice.vue'

/** Propose a set: medical devices first, pins around which the rest is chosen, then what rides and why the rest does not. */
const props = defineProps<{ device: string }>()
const emit = defineEmits<{ close: [] }>()
const { state, home, plan, outage, pair } = useSession()
const open = ref(true)
const pinning = ref(false)
const pins = ref<Record<string, PinStance>>({})
const hours = ref(String(outage.value?.goal_hours ?? 0))
type Aim = 'nine_in_ten' | 'expected' | 'however'
const aim = ref<Aim>('nine_in_ten')
const AIMS: [Aim, string][] = [
  ['nine_in_ten', '9 times in 10'],
  ['expected', 'as expected'],
  ['however', 'however long it lasts'],
]
const asked = ref(false)
const busy = ref(false)
const problem = ref('')
const found = shallowRef<ProposalView | null>(null)
const medical = computed(() => Object.values(home.value?.loads ?? {}).filter((l) => l.purpose === 'life'))
const circuits = computed(() =>
  Object.values(home.value?.circuits ?? {}).filter((c) =>
    Object.values(home.value?.loads ?? {}).some((l) => l.circuit === c.id),
  ),
)
const name = (id: string) => home.value?.circuits[id]?.name ?? id
const CLASSES: Record<string, string> = {
  life: 'life and health',
  house: 'water and frost kept out',
  food: 'food',
  communications: 'communications and work',
  comfort: 'comfort',
  convenience: 'convenience',
}
const ready = computed(() => medical.value.length > 0 || asked.value)

function pin(id: string, value: string) {
  const rest = Object.fromEntries(Object.entries(pins.value).filter(([k]) => k !== id))
  pins.value = value ? { ...rest, [id]: value as PinStance } : rest
  found.value = null
}
async function propose() {
  const parsed = parseNumber(hours.value || '0')
  if (!parsed.ok || parsed.value < 0) {
    problem.value = `Hours: ${parsed.ok ? 'they cannot be below 0.' : parsed.why}`
    return
  }
  problem.value = ''
  busy.value = true
  try {
    const params = { path: { home_id: state.value?.id ?? '' } }
    const sure: 'nine_in_ten' | 'expected' = aim.value === 'nine_in_ten' ? 'nine_in_ten' : 'expected'
    const body = {
      ...pair.value,
      pins: pins.value,
      hours: aim.value === 'however' ? 0 : parsed.value,
      sure,
      device: props.device || null,
    }
    found.value = await answer(api.POST('/api/homes/{home_id}/proposal', { params, body }))
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
function take() {
  if (found.value && plan.value) edit(`${plan.value.name}: the proposed set`, found.value.ops as Op[])
  emit('close')
}
</script>

<template>
  <el-dialog v-model="open" title="Propose a set" width="760" top="5vh" @closed="emit('close')">
    <p v-if="medical.length">
      Kept before everything else: <b>{{ medical.map((l) => l.name).join(', ') }}</b>. Does anyone depend on another
      device? Enter it in House first, as needed for life and health.
    </p>
    <el-checkbox v-else v-model="asked" class="ask"
      >No one here depends on a medical device. (If someone does, enter it in House first, as needed for life and
      health.)</el-checkbox
    >
    <div class="row">
      <label
        >to last
        <Choice v-model="aim" label="How sure" @change="found = null">
          <el-option v-for="[value, text] in AIMS" :key="value" :value="value" :label="text" /> </Choice
      ></label>
      <label v-if="aim !== 'however'"
        >at least
        <el-input v-model="hours" inputmode="decimal" aria-label="Hours to last" @input="found = null" /> h</label
      >
      <el-button class="btn strong" :disabled="!ready || busy" @click="propose">
        {{ found ? 'Propose again' : 'Propose' }}
      </el-button>
      <span v-if="busy" role="status">Choosing…</span>
    </div>
    <p v-if="problem" role="alert" class="problem">{{ problem }}</p>
    <!-- What is folded away is not there: the library's modal would count it, and let the focus out past it. -->
    <details @toggle="pinning = ($event.target as HTMLDetailsElement).open">
      <summary>Pinned: {{ Object.keys(pins).length || 'none' }}</summary>
      <div v-if="pinning" class="pins">
        <label v-for="c in circuits" :key="c.id">
          <span>{{ c.slots.join('·') }} {{ c.name }}</span>
          <Choice :model-value="pins[c.id] ?? ''" :label="`Pin ${c.name}`" @change="pin(c.id, $event)">
            <el-option value="" label="choose freely" />
            <el-option value="keep_on" label="Keep on" />
            <el-option value="turns" label="Take turns" />
            <el-option value="off" label="Leave off" />
          </Choice>
        </label>
      </div>
    </details>
    <template v-if="found">
      <p class="sum">
        <template v-if="!found.rides.length"
          >No circuit can be backed up here. See why under “Left off, and why”.</template
        >
        <template v-else-if="found.low_h === null">Still on at the end.</template>
        <template v-else
          >Count on <Fig :text="hoursText(found.low_h)" /><template v-if="found.hours !== null"
            >, probably <Fig :text="hoursText(found.hours)" /></template
          >.</template
        >
        <b v-if="found.short"> No set reaches these hours with this station.</b>
      </p>
      <div class="columns">
        <section>
          <h3>Rides</h3>
          <ol>
            <li v-for="r in found.rides" :key="r.circuit" :class="{ moved: r.moved }">
              {{ name(r.circuit) }}
              <span class="soft small"
                >place {{ r.place }}{{ r.stance === 'turns' ? ', takes turns' : ''
                }}{{ r.moved ? '' : ', as it is' }}</span
              >
            </li>
          </ol>
          <h3>Result by class</h3>
          <p v-for="c in found.classes.filter((x) => x.of > 0)" :key="c.purpose" class="small">
            {{ CLASSES[c.purpose] }}: {{ number(c.got, 1) }} of {{ number(c.of, 1) }}
          </p>
        </section>
        <section>
          <h3>Left off, and why</h3>
          <p v-for="l in found.left" :key="l.circuit" class="small">{{ l.sentence }}</p>
        </section>
      </div>
      <p class="soft small">
        Imbuto decides each class before the next, so lower classes never outweigh a higher one. The calculation fits,
        but no one has inspected the wiring.
      </p>
      <div class="form-end">
        <el-button class="btn" @click="emit('close')">Cancel</el-button>
        <el-button class="btn strong" :disabled="!found.ops.length" @click="take">
          {{ found.ops.length ? 'Take this set' : 'Same as now' }}
        </el-button>
      </div>
    </template>
  </el-dialog>
</template>

<style scoped>
.row,
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 12px;
  align-items: center;
  margin: 8px 0;
}
.el-input {
  width: 64px;
}
.pins {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 4px 18px;
  max-height: 220px;
  overflow: auto;
}
.pins label {
  display: flex;
  justify-content: space-between;
  gap: 8px;
  align-items: center;
}
summary {
  cursor: pointer;
  color: var(--stored-ink);
}
.columns {
  align-items: flex-start;
}
section {
  flex: 1;
  max-height: 330px;
  overflow: auto;
}
ol,
section p {
  margin: 4px 0;
}
ol {
  padding-left: 22px;
}
.moved {
  font-weight: 650;
}
.problem {
  padding: 6px 10px;
  border-left: 5px solid var(--dark);
}
</style>
