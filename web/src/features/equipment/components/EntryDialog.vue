<script setup lang="ts">
import { computed, reactive, ref } from 'vue'
import type { FieldNote } from '@/shared/api/types'
import { freshId } from '@/shared/ids'
import { useSession } from '@/shared/session/session'
import { choiceWords, fieldWords, inWords, readFields, shownOf, typedOf, type Entry, type Kind } from '../model'
import SheetReader from './SheetReader.vue'
import Choice from '@/shared/ui/fields/Choice.vue'

/** One entry, field by field, as its label and manual say. What must be given stands first. */
const props = defineProps<{
  kind: string
  of: Kind
  notes: FieldNote[]
  entry: Entry
  taken: string[]
  save: (entry: Entry) => Promise<boolean>
}>()
const emit = defineEmits<{ close: [] }>()
const { problem } = useSession()
const typed = reactive(typedOf(props.notes, props.entry))
const open = ref(true)
const told = ref('')
const busy = ref(false)
const shown = computed(() => props.notes.filter((n) => n.name !== 'id'))
const needed = computed(() => shown.value.filter((n) => n.needed))
const rest = computed(() => shown.value.filter((n) => !n.needed))
const more = ref(Object.keys(props.entry).length > 0)
const label = (n: FieldNote) => {
  const { words, unit } = fieldWords(n.name)
  return unit ? `${words}, ${unit}` : words
}

/** What was read from a sheet stands in its fields, to be looked at before it is kept. */
function takeRead(values: Record<string, string>) {
  Object.assign(typed, shownOf(values))
  more.value = true
}

async function keep() {
  const id = String(props.entry.id || '') || freshId(typed.name || props.kind, props.taken)
  const { entry, problem: wrong } = readFields(props.notes, { ...typed, id })
  told.value = wrong
  if (wrong) return
  busy.value = true
  problem.value = ''
  if (!(await props.save(entry))) {
    told.value = problem.value
    problem.value = ''
  }
  busy.value = false
}
</script>

<template>
  <el-dialog
    v-model="open"
    :title="entry.id ? String(entry.name) : `A ${kind} of your own`"
    width="620"
    append-to-body
    @closed="emit('close')"
  >
    <SheetReader :kind="of" @take="takeRead" />
    <form novalidate class="entry fields" @submit.prevent="keep">
      <template v-for="(group, i) in [needed, more ? rest : []]" :key="i">
        <template v-for="n in group" :key="n.name">
          <label :for="`f-${n.name}`" :title="n.meaning">{{ label(n) }}</label>
          <div>
            <Choice v-if="n.choices.length" :id="`f-${n.name}`" v-model="typed[n.name]">
              <el-option v-if="!n.needed" value="" :label="choiceWords(n.default)" />
              <el-option v-for="c in n.choices" :key="c" :value="c" :label="choiceWords(c)" />
            </Choice>
            <Choice v-else-if="n.kind.startsWith('true')" :id="`f-${n.name}`" v-model="typed[n.name]">
              <el-option value="" :label="n.default === 'true' ? 'yes, unless said' : 'no, unless said'" />
              <el-option value="yes" label="yes" />
              <el-option value="no" label="no" />
            </Choice>
            <el-input
              v-else
              :id="`f-${n.name}`"
              v-model="typed[n.name]"
              :placeholder="
                n.needed ? inWords(n.name, n.limits) : n.default === 'null' ? 'not listed' : inWords(n.name, n.default)
              "
            />
            <small v-if="n.meaning !== fieldWords(n.name).words" class="soft">{{ n.meaning }}</small>
          </div>
        </template>
        <el-button v-if="i === 0 && !more" class="btn tiny all" @click="more = true">
          {{ rest.length }} more fields
        </el-button>
      </template>
    </form>
    <p v-if="told" role="alert" class="told">{{ told }}</p>
    <div class="form-end">
      <el-button class="btn" @click="emit('close')">Cancel</el-button>
      <el-button class="btn strong" :disabled="busy" @click="keep">Keep</el-button>
    </div>
  </el-dialog>
</template>

<style scoped>
.entry {
  display: grid;
  grid-template-columns: 150px 1fr;
  gap: 7px 14px;
  max-height: 58vh;
  overflow: auto;
}
label {
  padding-top: 6px;
  color: var(--soft);
}
.el-input,
.choice {
  width: 100%;
}
small {
  display: block;
  line-height: 1.2;
}
.all {
  grid-column: 1 / -1;
  justify-self: start;
}
.told {
  margin: 10px 0 0;
  padding: 6px 10px;
  border-left: 5px solid var(--dark);
  background: var(--paper);
}
</style>
