<script setup lang="ts">
import { computed, ref } from 'vue'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { useSession } from '@/shared/session/session'
import { amount, hourOfDay, watts } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import LogDrawing from '@/shared/ui/LogDrawing.vue'

/** A log that was kept: drawn with what was found in it, and its usual day. */
const props = defineProps<{ id: string }>()
const emit = defineEmits<{ close: [] }>()
const { state, home } = useSession()
const open = ref(true)
const seen = useHomeQuery('/api/homes/{home_id}/series/{series_id}', {
  path: () => ({ series_id: props.id }),
  followsEdits: false,
  keep: false,
})
const channel = seen.view
const most = computed(() => Math.max(...(channel.value?.profile_w ?? [1]), 1))
</script>

<template>
  <el-dialog v-model="open" :title="channel?.name ?? 'Log'" width="760" top="6vh" @closed="emit('close')">
    <p v-if="seen.isError.value" role="alert">{{ seen.error.value?.message }}</p>
    <p v-else-if="!channel" class="soft" role="status">Reading the log…</p>
    <template v-else>
      <LogDrawing :channel="channel" :zone="home?.site.time_zone ?? 'UTC'" />
      <p>
        <Fig :text="`${amount(channel.average_w)} W`" /> on average; a usual day, hour by hour, most at
        <b>{{ hourOfDay(channel.profile_w.indexOf(most)) }}</b> with <Fig :text="watts(most)" />:
      </p>
      <div class="day" role="img" aria-label="Mean W by hour of day">
        <i v-for="(w, h) in channel.profile_w" :key="h" :style="{ height: `${(100 * w) / most}%` }" :title="watts(w)" />
      </div>
      <p class="soft small hours"><span>midnight</span><span>noon</span><span>midnight</span></p>
      <p>
        <a class="btn" :href="`/api/homes/${state?.id}/series/${id}/csv`" download>Save as CSV</a>
      </p>
    </template>
  </el-dialog>
</template>

<style scoped>
.day {
  display: flex;
  align-items: flex-end;
  gap: 2px;
  height: 70px;
  border-bottom: 1px solid var(--line-strong);
}
.day i {
  flex: 1;
  min-height: 1px;
  background: var(--stored);
}
.hours {
  display: flex;
  justify-content: space-between;
  margin: 2px 0 12px;
}
</style>
