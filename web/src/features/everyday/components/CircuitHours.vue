<script setup lang="ts">
import { computed } from 'vue'
import type { CircuitSchedule, EverydayPolicy, Window } from '@/shared/api/types'
import { useSession } from '@/shared/session/session'
import FoldSection from '@/shared/ui/FoldSection.vue'
import Choice from '@/shared/ui/fields/Choice.vue'
import WindowsEditor from '@/shared/ui/fields/WindowsEditor.vue'
import { BY } from '../policy'

/** Circuits that are off at set hours while the grid is there. */
const props = defineProps<{ circuits: EverydayPolicy['circuits'] }>()
const emit = defineEmits<{ change: [string, EverydayPolicy['circuits']] }>()
const { home } = useSession()
const named = (id: string) => home.value?.circuits[id]?.name ?? id
const rows = computed(() => Object.values(props.circuits))
const others = computed(() =>
  Object.values(home.value?.circuits ?? {})
    .filter((c) => !(c.id in props.circuits))
    .sort((a, b) => a.name.localeCompare(b.name)),
)
function add(id: string) {
  const fresh: CircuitSchedule = { id, off: [{ start_h: 17, end_h: 21, days: 'weekday' }], later: true, by: 'itself' }
  emit('change', `${named(id)}: off at set hours`, { ...props.circuits, [id]: fresh })
}
function set(row: CircuitSchedule, change: Partial<CircuitSchedule>, label: string) {
  emit('change', `${named(row.id)}: ${label}`, { ...props.circuits, [row.id]: { ...row, ...change } })
}
function windows(row: CircuitSchedule, off: Window[]) {
  if (off.length) return set(row, { off }, 'hours off')
  const rest = Object.fromEntries(Object.entries(props.circuits).filter(([id]) => id !== row.id))
  emit('change', `${named(row.id)}: on at all hours`, rest)
}
</script>

<template>
  <FoldSection id="everyday/circuits" :level="2" title="Circuits off at set hours" :holds="rows.length || 'none'">
    <p class="soft small">
      While the grid is there. What a circuit doesn’t use then isn’t missed, and saves only as far as it isn’t used
      later. For an outage, set turns in What to power.
    </p>
    <article v-for="row in rows" :key="row.id">
      <b>{{ named(row.id) }}</b> is off
      <WindowsEditor :model-value="row.off as Window[]" @update:model-value="windows(row, $event)" />
      <el-checkbox
        :model-value="row.later"
        @change="set(row, { later: !row.later }, row.later ? 'not used later' : 'used later')"
        >its loads catch up afterwards, as a water heater does</el-checkbox
      >
      <Choice
        :model-value="row.by"
        :label="`What switches ${named(row.id)}`"
        @change="set(row, { by: $event as CircuitSchedule['by'] }, BY[$event] ?? '')"
      >
        <el-option v-for="(says, by) in BY" :key="by" :value="by" :label="`switched ${says}`" />
      </Choice>
    </article>
    <Choice
      :model-value="''"
      label="Add a circuit that is off at set hours"
      placeholder="Add a circuit"
      filterable
      @change="add"
    >
      <el-option v-for="c in others" :key="c.id" :value="c.id" :label="c.name" />
    </Choice>
  </FoldSection>
</template>

<style scoped>
article {
  margin: 8px 0;
  padding-bottom: 8px;
  border-bottom: 1px solid var(--line);
}
.choice {
  width: 220px;
}
</style>
