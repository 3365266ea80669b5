<script setup lang="ts">
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/vue-query'
import { refDebounced } from '@vueuse/core'
import { computed, ref, watch } from 'vue'
import { useRouter } from 'vue-router'
import { answer, api } from '@/shared/api/client'
import Fig from '@/shared/ui/Fig.vue'
import Choice from '@/shared/ui/fields/Choice.vue'
import { provideFirstAnswers } from './answers'
import FirstAnswer from './components/FirstAnswer.vue'
import HaveQuestion from './components/HaveQuestion.vue'
import NeedsQuestion from './components/NeedsQuestion.vue'
import WhereLine from './components/WhereLine.vue'

/** The first minutes: three questions on the left, the answer so far on the right. Nothing is kept until it is asked for. */
const router = useRouter()
const client = useQueryClient()
const typical = useQuery({ queryKey: ['typical'], queryFn: () => answer(api.GET('/api/typical')), staleTime: Infinity })
const first = provideFirstAnswers()
const { form } = first
const tried = ref(false)
const problem = ref('')
const busy = ref(false)

const asked = refDebounced(first.body, 250)
const preview = useQuery({
  queryKey: computed(() => ['first-answer', asked.value]),
  queryFn: ({ signal }) => answer(api.POST('/api/first-answer', { body: asked.value!, signal })),
  enabled: computed(() => asked.value !== null),
  placeholderData: keepPreviousData,
  retry: false,
})
const shown = computed(() => (first.problems.value.length && !preview.data.value ? undefined : preview.data.value))
/** A field that is only half filled in is not complained about before it was left, or the plan was to be kept. */
const problems = computed(() =>
  problem.value
    ? [problem.value]
    : preview.error.value
      ? [preview.error.value.message]
      : tried.value || form.have === 'station' || form.engine
        ? first.problems.value
        : first.picks.some((p) => p.usual === null)
          ? first.problems.value
          : [],
)
// A package is chosen for the needs it was shown for.
watch(
  () => form.volts,
  () => (first.buy.station = ''),
)

const LENGTHS = [
  { hours: 4, text: 'Evening' },
  { hours: 12, text: 'Night' },
  { hours: 24, text: 'A day' },
  { hours: 72, text: 'Three days' },
]

async function keep(card: boolean) {
  tried.value = true
  problem.value = ''
  if (!first.body.value) return
  busy.value = true
  try {
    const made = await answer(api.POST('/api/homes', { body: first.body.value }))
    await client.invalidateQueries({ queryKey: ['homes'] })
    await router.push(`/home/${made.id}/${card ? 'papers' : form.wired ? 'joining' : 'hours'}`)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
</script>

<template>
  <main class="start">
    <form novalidate @submit.prevent="keep(false)">
      <header>
        <RouterLink to="/" class="soft">All homes</RouterLink>
        <h1>A new home</h1>
      </header>
      <p v-if="typical.isError.value" role="alert">
        The table of typical loads didn’t load because the server isn’t responding.
        <el-button class="link" @click="typical.refetch()">Try again</el-button>
      </p>
      <NeedsQuestion :table="typical.data.value ?? []" />
      <HaveQuestion />
      <fieldset>
        <legend>How long, and when?</legend>
        <div class="either" role="group" aria-label="Length of the usual outage">
          <el-button
            v-for="l in LENGTHS"
            :key="l.hours"
            :aria-pressed="form.hours === l.hours"
            @click="form.hours = l.hours"
          >
            {{ l.text }} <Fig class="small" :text="`${l.hours} h`" />
          </el-button>
          <Choice v-model="form.season" label="Season">
            <el-option value="" :label="`worst season${shown ? `: ${shown.season}` : ''}`" />
            <el-option value="winter" label="winter" />
            <el-option value="summer" label="summer" />
          </Choice>
        </div>
        <WhereLine :said="shown" />
      </fieldset>
    </form>
    <FirstAnswer :said="shown" :problems="problems" :busy="busy" @keep="keep" />
  </main>
</template>

<style scoped>
.start {
  display: grid;
  grid-template-columns: minmax(0, 1fr) 440px;
  height: 100vh;
}
form {
  overflow: auto;
  padding: 26px 30px 30px 40px;
}
header {
  margin-bottom: 12px;
}
h1 {
  font-size: 24px;
}
fieldset,
:deep(fieldset) {
  margin: 0 0 18px;
  padding: 0;
  border: 0;
}
legend,
:deep(legend) {
  padding: 0;
  margin-bottom: 8px;
  font: 650 21px var(--head);
}
.either,
:deep(.either) {
  display: flex;
  flex-wrap: wrap;
  gap: 6px;
}
.either > button,
:deep(.either > button) {
  min-height: 38px;
  padding: 4px 14px;
  border: 1px solid var(--line-strong);
  border-radius: 8px;
  background: var(--sheet);
}
.either > .choice {
  align-self: center;
}
.either > [aria-pressed='true'],
:deep(.either > [aria-pressed='true']) {
  border-color: var(--deep);
  background: var(--deep);
  color: var(--on-deep);
}
@media (max-width: 900px) {
  .start {
    display: block;
    height: auto;
    min-height: 100vh;
  }
  form {
    padding: 16px 16px 20px;
  }
  .either > button,
  :deep(.either > button) {
    min-height: 44px;
  }
}
</style>
