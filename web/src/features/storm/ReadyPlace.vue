<script setup lang="ts">
import { homeNow } from '@/shared/units/homeTime'
import { computed, reactive, ref, watch } from 'vue'
import { answer, api } from '@/shared/api/client'
import type { Op } from '@/shared/api/types'
import { escape } from '@/shared/session/patch'
import { useHomeQuery } from '@/shared/session/homeQuery'
import { act, edit, useSession } from '@/shared/session/session'
import { clock, hoursText, number, percent } from '@/shared/units/format'
import Fig from '@/shared/ui/Fig.vue'
import StormHead from './StormHead.vue'
import FileButton from '@/shared/ui/fields/FileButton.vue'

/** What is to be done before a storm, by the clock: stores to fill, gear, hands, and who has done what. */
const { home, pair, problem } = useSession()
const query = useHomeQuery('/api/homes/{home_id}/ready', {
  query: pair,
  enabled: () => !!pair.value.plan && !!pair.value.outage,
  every: 60_000,
})
const view = query.view
const alert = computed(() => home.value?.alert ?? null)
const ready = computed(() => view.value?.ready ?? null)
const busy = ref(false)

const form = reactive({ title: 'Storm', begins: '', ends: '', wind: true, ice: false, heat: false })
function byHand() {
  if (!form.begins || !form.ends) {
    problem.value = 'Enter when the storm starts and ends.'
    return
  }
  const brings = (['wind', 'ice', 'heat'] as const).filter((w) => form[w])
  const value = {
    title: form.title.trim() || 'Storm',
    begins: form.begins,
    ends: form.ends,
    brings,
    likely: 'likely',
    came: 'by_hand',
    note: '',
    charges: {},
    out: [],
    ticks: {},
  }
  edit(`Storm: ${value.title}`, [{ doc: 'home', op: 'replace', path: '/alert', value }])
}
async function feed() {
  busy.value = true
  await act((home_, named) =>
    answer(
      api.POST('/api/homes/{home_id}/alert/feed', {
        params: { path: { home_id: home_ }, query: { edit_id: named.edit_id, ...named.judge } },
      }),
    ),
  )
  busy.value = false
}
async function file(picked: File) {
  busy.value = true
  await act((home_, named) =>
    answer(
      api.POST('/api/homes/{home_id}/alert', {
        params: { path: { home_id: home_ }, query: { name: picked.name, edit_id: named.edit_id, ...named.judge } },
        body: '',
        bodySerializer: () => picked,
        headers: { 'content-type': 'application/octet-stream' },
      }),
    ),
  )
  busy.value = false
}
const over = () => edit('The storm is over', [{ doc: 'home', op: 'replace', path: '/alert', value: null }])

const who = ref('')
const people = computed(() => Object.values(home.value?.household.people ?? {}).map((p) => p.name))
function tick(id: string, title: string, done: boolean) {
  const path = `/alert/ticks/${escape(id)}` as const
  const at = view.value?.now.slice(0, 19) ?? homeNow(home.value?.site.time_zone)
  const op: Op = done
    ? { doc: 'home', op: 'remove', path }
    : { doc: 'home', op: 'add', path, value: { who: who.value.trim(), at } }
  edit(done ? `Open again: ${title}` : `Done: ${title}`, [op])
}
function charge(source: string, name: string, value: number | undefined) {
  if (value === undefined) return
  edit(`${name} at ${value}%`, [
    { doc: 'home', op: 'add', path: `/alert/charges/${escape(source)}`, value: value / 100 },
  ])
}
function out(source: string, name: string) {
  const now = alert.value?.out ?? []
  const value = now.includes(source) ? now.filter((s) => s !== source) : [...now, source]
  edit(`${name} is ${value.includes(source) ? 'out' : 'there again'}`, [
    { doc: 'home', op: 'replace', path: '/alert/out', value },
  ])
}
const print = () => window.print()
watch(
  () => people.value,
  (all) => (who.value = who.value || (all.length === 1 ? (all[0] ?? '') : '')),
  { immediate: true },
)
</script>

<template>
  <div class="place ready">
    <StormHead>
      <template v-if="alert">
        <el-button class="btn" @click="print">Print</el-button>
        <el-button class="btn" @click="over">The storm is over</el-button>
      </template>
    </StormHead>
    <p v-if="query.isError.value" role="alert">{{ query.error.value?.message }}</p>
    <section v-if="!alert" class="none">
      <h2>No storm is noted</h2>
      <p>
        An alert starts a list of what to charge, by when, and who does what. Imbuto doesn’t use the network for this.
      </p>
      <form class="form" novalidate @submit.prevent="byHand">
        <label for="r-title">What</label><el-input id="r-title" v-model="form.title" maxlength="80" />
        <label for="r-from">From</label>
        <el-date-picker
          id="r-from"
          v-model="form.begins"
          :automatic-dropdown="false"
          type="datetime"
          value-format="YYYY-MM-DDTHH:mm:ss"
        />
        <label for="r-to">Until</label>
        <el-date-picker
          id="r-to"
          v-model="form.ends"
          :automatic-dropdown="false"
          type="datetime"
          value-format="YYYY-MM-DDTHH:mm:ss"
        />
        <span>Brings</span>
        <span class="brings">
          <el-checkbox v-model="form.wind" label="wind" />
          <el-checkbox v-model="form.ice" label="ice or snow" />
          <el-checkbox v-model="form.heat" label="heat" />
        </span>
        <span></span><el-button native-type="submit" class="btn strong">Note it</el-button>
      </form>
      <p class="other">
        <FileButton accept=".xml,.cap" @file="file">Read an alert file (CAP 1.2)</FileButton>
        <el-button class="btn" :disabled="busy" @click="feed">Ask the simulated feed</el-button>
      </p>
    </section>
    <template v-else-if="view && ready">
      <h2>
        {{ alert.title }}
        <small class="soft"
          >{{ clock(alert.begins) }} to {{ clock(alert.ends) }}, <Fig :text="hoursText(view.hours)" /><template
            v-if="alert.brings?.length"
            >, {{ alert.brings.join(' and ') }}</template
          ><template v-if="alert.area">, for {{ alert.area }}</template
          ><template v-if="!alert.end_known"
            >. The alert is valid until then, but the storm may last longer</template
          ></small
        >
      </h2>
      <p class="verdict" :class="{ short: !ready.enough }">
        {{ view.planned_as }}
        <template v-if="ready.enough">With its stations full, you can count on it that long.</template>
        <template v-else-if="ready.lowest_h !== null"
          >With its stations full, count on <Fig :text="hoursText(ready.lowest_h ?? 0)" />:
          <Fig :text="hoursText(ready.short_h)" /> short.</template
        >
        <template v-else>This plan powers nothing, or its station is away.</template>
      </p>
      <div class="columns">
        <section class="stores scroll">
          <h3>Stations, and the latest time to start charging</h3>
          <article v-for="f in ready.fills" :key="f.source">
            <h4>{{ f.name }}</h4>
            <label
              >now at
              <el-input-number
                :model-value="f.charge === null ? undefined : Math.round(f.charge * 100)"
                placeholder="?"
                :min="0"
                :max="100"
                :aria-label="`Charge of ${f.name}, %`"
                @change="charge(f.source, f.name, $event)"
              />
              %</label
            >
            <p v-if="alert.out?.includes(f.source)">Away, so it isn’t counted.</p>
            <p v-else-if="f.hours === 0">Full.</p>
            <p v-else-if="f.hours === null">
              {{ f.unlisted ? 'Its charging watts aren’t listed: begin now.' : 'It doesn’t charge where it is now.' }}
              {{ f.how }}
            </p>
            <p v-else>
              <template v-if="f.charge === null">Read its display and enter its charge. From its stop level</template
              ><Fig v-else :text="percent(f.charge)" /> to full at <Fig :text="`${number(f.watts)} W`" /> takes
              <Fig :text="hoursText(f.hours)" />, from {{ f.circuit }}:
              <strong :class="{ late: f.late }"
                >start by {{ clock(f.begin_by ?? '') }}{{ f.late ? ', which has passed: begin now' : '' }}</strong
              >. {{ f.how }}
            </p>
            <el-checkbox class="check" :model-value="alert.out?.includes(f.source)" @change="out(f.source, f.name)"
              >broken or missing</el-checkbox
            >
          </article>
          <h3>Hours to count on</h3>
          <p v-for="c in ready.carries" :key="c.source">
            {{ c.name }}:
            <template v-if="c.out">out</template>
            <Fig v-else-if="c.hours !== null" :text="hoursText(c.hours ?? 0)" />
            <template v-else>still on at the end</template>
          </p>
        </section>
        <section class="todo scroll">
          <h3>By the clock</h3>
          <p class="by">
            <label for="r-who">Done by</label>
            <el-input id="r-who" v-model="who" list="r-people" maxlength="80" placeholder="a name" />
            <datalist id="r-people"><option v-for="p in people" :key="p" :value="p" /></datalist>
          </p>
          <ul>
            <li v-for="i in ready.items" :key="i.id" :class="{ done: i.done, late: i.late }">
              <el-checkbox :model-value="!!i.done" @change="tick(i.id, i.title, !!i.done)"
                ><span>
                  <b>{{ i.title }}</b>
                  <small>{{
                    i.done ? i.done : i.due ? `by ${clock(i.due)}${i.late ? ', late' : ''}` : 'now'
                  }}</small><br />
                  {{ i.sentence }}
                </span></el-checkbox
              >
            </li>
          </ul>
        </section>
      </div>
    </template>
    <p v-else class="soft" role="status">Working out what to do…</p>
  </div>
</template>

<style scoped>
h2 small {
  font: 400 14px var(--text);
}
.form {
  max-width: 520px;
  margin: 12px 0;
}
.brings {
  display: flex;
  gap: 14px;
}
.other {
  flex-wrap: wrap;
  display: flex;
  gap: 10px;
}
.verdict {
  margin: 2px 0 10px;
  font-weight: 650;
}
.stores {
  flex: 1;
}
.todo {
  flex: 1.2;
}
article {
  margin: 6px 0 10px;
  padding: 8px 12px;
  border: 1px solid var(--line);
  border-left: 6px solid var(--stored);
  border-radius: 8px;
  background: var(--sheet);
}
article h4 {
  margin: 0 0 4px;
}
article p {
  margin: 4px 0;
}
strong.late,
.todo .late small {
  text-decoration: underline;
  text-decoration-thickness: 3px;
  text-decoration-color: var(--dark);
}
ul {
  margin: 4px 0;
  padding: 0;
  list-style: none;
}
li {
  padding: 7px 4px;
  border-bottom: 1px solid var(--line);
}
li label {
  display: flex;
  gap: 10px;
  align-items: flex-start;
}
li small {
  margin-left: 8px;
  color: var(--soft);
}
.done span {
  color: var(--soft);
}
.by {
  display: flex;
  gap: 8px;
  align-items: center;
  font-size: 13px;
}
.check {
  display: flex;
  gap: 7px;
  align-items: baseline;
  font-size: 13px;
}
</style>
