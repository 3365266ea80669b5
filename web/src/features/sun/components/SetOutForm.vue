<script setup lang="ts">
import { computed } from 'vue'
import type { SetOut } from '@/shared/api/types'
import HourChoice from '@/shared/ui/fields/HourChoice.vue'
import KeptInput from '@/shared/ui/fields/KeptInput.vue'
import { hourOfDay } from '@/shared/units/format'

/** When somebody sets an array out or plugs it in, who, and what keeps it in. */
const props = defineProps<{ out: SetOut | null; folds: boolean }>()
const emit = defineEmits<{ change: [SetOut | null, string] }>()
const FRESH: SetOut = { from_h: 8, to_h: 18, who: '', outage_only: true, shut_in_wind: true }
const verb = computed(() => (props.folds ? 'set out' : 'plugged in'))
function set(change: Partial<SetOut>, label: string) {
  emit('change', { ...(props.out ?? FRESH), ...change }, label)
}
</script>

<template>
  <el-checkbox
    class="check"
    :model-value="!!out"
    @change="emit('change', out ? null : FRESH, out ? `not ${verb} by hand` : `${verb} by hand`)"
    >{{ verb }} by hand, at set hours</el-checkbox
  >
  <fieldset v-if="out">
    <legend>By hand</legend>
    <div class="two">
      <label
        >Out at
        <HourChoice
          :hour="out.from_h"
          label="Out at"
          :most="out.to_h"
          @change="set({ from_h: $event }, `out at ${hourOfDay($event)}`)"
      /></label>
      <label
        >In at
        <HourChoice
          :hour="out.to_h"
          label="In at"
          :least="out.from_h"
          @change="set({ to_h: $event }, `in at ${hourOfDay($event)}`)"
      /></label>
    </div>
    <label
      >Who
      <KeptInput
        :value="out.who"
        label="Who sets it out"
        maxlength="80"
        placeholder="anyone at home"
        @keep="set({ who: $event }, $event ? `${verb} by ${$event}` : `${verb} by anyone at home`)"
    /></label>
    <el-checkbox
      class="check"
      :model-value="out.outage_only"
      @change="set({ outage_only: !out.outage_only }, out.outage_only ? 'out every day' : 'out in outages only')"
      >only in an outage</el-checkbox
    >
    <el-checkbox
      class="check"
      :model-value="out.shut_in_wind || folds"
      :disabled="folds"
      @change="
        set({ shut_in_wind: !out.shut_in_wind }, out.shut_in_wind ? 'inlet open in wind' : 'inlet closed in wind')
      "
      >{{ folds ? 'stays in during a storm' : 'its inlet stays shut in wind' }}</el-checkbox
    >
  </fieldset>
</template>

<style scoped>
fieldset {
  display: grid;
  gap: 6px;
  margin: 0;
  padding: 6px 10px 8px;
  border: 1px solid var(--line);
  border-radius: 8px;
}
legend {
  padding: 0 4px;
  color: var(--soft);
  font-size: 13px;
}
.two {
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 8px;
}
.choice,
.el-input {
  width: 100%;
}
</style>
