<script setup lang="ts">
import { computed, ref } from 'vue'
import type { LiveView, ReachStep } from '@/shared/api/types'
import { escape } from '@/shared/session/patch'
import { uniqueId } from '@/shared/ids'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { edit, useSession } from '@/shared/session/session'
import { clock } from '@/shared/units/format'
import { isoLocal } from '../homeClock'
import Fig from '@/shared/ui/Fig.vue'

/** Last until a named hour: the least that would have to be given up. It asks; nothing is done before it is taken. */
const props = defineProps<{
  live: NonNullable<LiveView['live']>
  now: () => string
  nameOfLoad: (id: string) => string
}>()
const { pair } = useSession()
const typed = ref('')
const asked = ref('')
const pad = (n: number) => String(n).padStart(2, '0')
/** The next morning at seven, and the one after. */
const mornings = computed(() =>
  [0, 1, 2]
    .map((d) => {
      const at = new Date(props.now())
      at.setDate(at.getDate() + d)
      return `${at.getFullYear()}-${pad(at.getMonth() + 1)}-${pad(at.getDate())}T07:00:00`
    })
    .filter((at) => at > props.now())
    .slice(0, 2),
)
const query = useHomeQuery('/api/homes/{home_id}/live/reach', {
  query: () => ({ outage: pair.value.outage, until: asked.value }),
  enabled: () => !!asked.value,
  keep: false,
  retry: false,
})
const view = query.view
function ask(at: string) {
  typed.value = at
  asked.value = at
}
const taken = computed(() => Object.values(props.live.taken ?? {}).filter((t) => !t.until || t.until > props.now()))
const SAID = {
  rest: 'off',
  turns: 'in turns',
  sun: 'at noon',
  engine: 'The generator',
  outlet: 'At a neighbor’s outlet',
}
const words = (t: (typeof taken.value)[number]) =>
  t.load ? `${props.nameOfLoad(t.load)} ${SAID[t.kind]}` : `${SAID[t.kind]}${t.until ? ` until ${clock(t.until)}` : ''}`
/** Taken from now on, not from when it was worked out: nothing is saved in between. What runs for a while runs as long. */
function take(steps: ReachStep[]) {
  const at = props.now()
  edit(
    steps.length === 1 ? steps[0]!.title : 'Steps to last longer',
    steps.map((s) => {
      const id = `${s.taken.id}-${uniqueId().slice(0, 8)}`
      const late = Math.max(new Date(at).getTime() - new Date(s.taken.at).getTime(), 0)
      const until = s.taken.until ? isoLocal(new Date(new Date(s.taken.until).getTime() + late)) : null
      const value = { ...s.taken, id, at: late ? at : s.taken.at, until }
      return { doc: 'home', op: 'add', path: `/live/taken/${escape(id)}`, value }
    }),
  )
}
function end(t: (typeof taken.value)[number]) {
  const now = props.now()
  if (t.at > now)
    edit(`${words(t)} after all not`, [{ doc: 'home', op: 'remove', path: `/live/taken/${escape(t.id)}` }])
  else
    edit(`${words(t)} undone`, [{ doc: 'home', op: 'replace', path: `/live/taken/${escape(t.id)}/until`, value: now }])
}
</script>

<template>
  <h2 class="third">Reach the hour</h2>
  <div class="ask">
    <el-button v-if="live.back_by && live.back_by > now()" class="btn" @click="ask(live.back_by)">
      its return, {{ clock(live.back_by) }}
    </el-button>
    <el-button v-for="m in mornings" :key="m" class="btn" @click="ask(m)">{{ clock(m) }}</el-button>
    <el-date-picker
      v-model="typed"
      :automatic-dropdown="false"
      type="datetime"
      aria-label="Another hour to reach"
      placeholder="another hour"
      value-format="YYYY-MM-DDTHH:mm:ss"
      @change="asked = typed"
    />
  </div>
  <p v-if="query.isError.value && asked" role="alert">{{ query.error.value?.message }}</p>
  <p v-else-if="query.isFetching.value && !view" role="status" class="soft">Comparing steps…</p>
  <div v-else-if="view && asked" aria-live="polite" :aria-busy="query.isFetching.value">
    <article v-for="s in view.stores" :key="s.source" class="store">
      <p v-if="s.already">
        <b>{{ s.name }} lasts until {{ clock(view.until) }} as it goes.</b>
      </p>
      <template v-else-if="s.reached">
        <p>
          <b>{{ s.name }}: until {{ clock(view.until) }} with these</b>, the smallest set of steps.
          <template v-if="s.dark_at"
            >Off then {{ clock(s.dark_at)
            }}<template v-if="s.early_at">, 9 times in 10 not before {{ clock(s.early_at) }}</template
            >.</template
          >
          <template v-if="s.sure"> A life depends on it, so the 9-in-10 time counts.</template>
        </p>
        <ul>
          <li v-for="x in s.steps" :key="x.taken.id">
            <b>{{ x.title }}</b> <small v-if="x.gains" class="soft"><Fig :text="x.gains" /></small>
            <small>{{ x.costs }} · {{ x.who }}</small>
          </li>
        </ul>
        <el-button class="btn strong" @click="take(s.steps)">
          {{ s.steps.length === 1 ? 'Take it' : `Take all ${s.steps.length}` }}
        </el-button>
      </template>
      <p v-else>
        <b>{{ s.name }} isn’t reached, whatever you switch off</b
        ><template v-if="s.short">: <Fig :text="s.short" /></template>.
        <template v-if="!s.weighed">
          This station powers another one or is powered by one, so Imbuto can’t compare steps for it yet.</template
        >
      </p>
      <details v-if="s.others.length">
        <summary>Other steps, {{ s.others.length }}</summary>
        <ul>
          <li v-for="x in s.others" :key="x.taken.id">
            <b>{{ x.title }}</b> <small v-if="x.gains" class="soft"><Fig :text="x.gains" /></small>
            <small>{{ x.costs }} · {{ x.who }}</small>
            <el-button class="link small" :aria-label="`Take: ${x.title}`" @click="take([x])">use it</el-button>
          </li>
        </ul>
      </details>
    </article>
    <p v-for="a in view.advice" :key="a" class="advice">{{ a }}</p>
  </div>
  <p v-else class="soft">
    Enter an hour. Imbuto works out what to switch off until then. Nothing changes until you accept it.
  </p>
  <template v-if="taken.length">
    <h2 class="third">Taken</h2>
    <ul>
      <li v-for="t in taken" :key="t.id">
        <b>{{ words(t) }}</b> <small class="soft">{{ t.at > now() ? 'from' : 'since' }} {{ clock(t.at) }}</small>
        <el-button class="link small" :aria-label="`Undo: ${words(t)}`" @click="end(t)">undo</el-button>
      </li>
    </ul>
  </template>
</template>

<style scoped>
.third {
  margin: 14px 0 6px;
}
.ask {
  display: flex;
  flex-wrap: wrap;
  gap: 8px;
}
.ask .btn {
  min-height: 44px;
}
ul {
  margin: 6px 0 10px;
  padding: 0;
  list-style: none;
}
li {
  padding: 5px 0;
  border-bottom: 1px solid var(--line);
}
li small:last-of-type {
  display: block;
}
.advice {
  max-width: 60ch;
}
details {
  margin: 8px 0;
}
summary {
  min-height: 32px;
  cursor: pointer;
}
.strong {
  min-height: 44px;
}
</style>
