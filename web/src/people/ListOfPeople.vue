<script setup lang="ts">
import { useQuery, useQueryClient } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Glyph from '@/shared/Glyph.vue'
import Problem from '@/shared/Problem.vue'
import { goesOn } from '@/shared/useErrand'
import FileField from '@/shared/FileField.vue'
import Progress from '@/shared/Progress.vue'
import { several } from '@/shared/format'

/** A list of people as CSV: looked at line by line, then brought in. */
const emit = defineEmits<{ leave: [] }>()
const text = ref('')
const name = ref('')
const found = ref<Schemas['ImportLook'] | null>(null)
const sent = ref<number | null>(null)
const query = useQuery({
  queryKey: ['errands', 'people', sent],
  enabled: () => sent.value !== null,
  queryFn: () =>
    ask(api.GET('/api/v1/people/list/{number}', { params: { path: { number: sent.value ?? 0 } } })),
  refetchInterval: (state) => (goesOn(state.state.data?.state) ? 700 : false),
})
// Whoever comes back finds the list they sent last, and what stayed out of it.
const mine = useQuery({ queryKey: ['errands'], queryFn: () => ask(api.GET('/api/v1/errands')) })
watch(
  () => mine.data.value?.find((one) => one.kind === 'list of people'),
  (last) => {
    if (last && sent.value === null && !found.value && Date.now() - Date.parse(last.made_at) < 86_400_000)
      sent.value = last.id
  },
  { immediate: true },
)
const done = computed(() => (sent.value === null ? undefined : query.data.value))
const under = computed(() => sent.value !== null && (!done.value || goesOn(done.value.state)))
// Who was invited stands in the list behind this one.
const queries = useQueryClient()
watch(under, (now) => !now && void queries.invalidateQueries({ queryKey: ['people'] }))
const look = useAction(async (file: File) => {
  found.value = sent.value = null
  name.value = file.name
  text.value = await file.text()
  found.value = await ask(api.POST('/api/v1/people/list/look', { body: { text: text.value } }))
}, [])
const stop = useAction(() =>
  ask(api.DELETE('/api/v1/errands/{number}', { params: { path: { number: sent.value ?? 0 } } })),
)
const bring = useAction(async () => {
  sent.value = (await ask(api.POST('/api/v1/people/list', { body: { text: text.value } }))).id
  found.value = null
})
function chosen([file]: File[]) {
  if (file) void look.go(file)
}
const states: Record<string, string> = {
  'to be invited': 'ready',
  'here already': 'done',
  'not as it is': 'failed',
}
// What needs a look comes first.
const rows = computed(() =>
  [...(found.value?.rows ?? [])].sort((a, b) => b.faults.length - a.faults.length || a.line - b.line),
)
const sample = `data:text/csv;charset=utf-8,${encodeURIComponent('name,mail address,division,roles,groups\n')}`
</script>

<template>
  <div class="note stack tight">
    <h2>A list of people</h2>
    <p>
      A CSV file with a head: <b>name</b> and <b>mail address</b>, and if you like <b>division</b>,
      <b>roles</b> (such as “operator for Metering”) and <b>groups</b>. What was exported here fits as it is.
      <a :href="sample" download="people.csv">An empty one</a>
    </p>
    <p class="row">
      <FileField words="Choose a file" label="List of people" accept=".csv,text/csv" @chosen="chosen" />
      <el-button @click="emit('leave')">Cancel</el-button>
    </p>
    <Problem :error="look.error.value ?? bring.error.value" />
    <template v-if="found">
      <p role="status">
        {{ name }}: {{ found.new }} to be invited, {{ found.here }} here already, {{ found.faults }} not as
        they are. Nothing is changed yet.
      </p>
      <div class="long">
        <table class="ledger">
          <thead>
            <tr>
              <th class="num">Line</th>
              <th>Who</th>
              <th>What happens</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="row in rows" :key="row.line">
              <td class="num">{{ row.line }}</td>
              <td>
                {{ row.name || '–' }}
                <div class="quiet">{{ row.email }}</div>
              </td>
              <td>
                <Glyph :state="states[row.what] ?? 'waiting'" :word="row.what" />
                <div v-for="fault in row.faults" :key="fault" class="quiet bad">{{ fault }}</div>
                <div v-if="!row.faults.length && row.gets.length" class="quiet">
                  {{ row.gets.join('; ') }}
                </div>
              </td>
            </tr>
          </tbody>
        </table>
      </div>
      <p>
        <el-button :disabled="bring.busy.value || !found.new" type="primary" @click="bring.go()">
          Invite {{ several(found.new, 'person', 'people') }}
        </el-button>
        <span v-if="found.faults" class="quiet">
          Lines that are not right stay out; mend them and send the list again.</span
        >
      </p>
    </template>
    <div v-if="under" class="stack tight" role="status">
      <Progress :done="done?.done ?? 0" :of="done?.total ?? 1" label="Invited" />
      <p class="row">
        {{ done?.done ?? 0 }} of {{ done?.total ?? 'the' }} lines; {{ done?.words || 'about to begin' }}
        <el-button @click="stop.go()">Stop</el-button>
        <span class="quiet">It goes on when you leave this page.</span>
      </p>
    </div>
    <div v-else-if="done" role="status">
      <p v-if="done.state !== 'done'">
        <b>{{ done.state === 'failed' ? 'Not done to the end.' : 'Stopped.' }}</b> {{ done.words }}
      </p>
      <p>
        {{ done.invited }} invited, {{ done.here }} were here already<template v-if="done.left_out.length"
          >, {{ done.left_out.length }} left out</template
        >.
      </p>
      <p v-for="row in done.left_out" :key="row.line" class="quiet">
        Line {{ row.line }}, {{ row.name || 'no name' }}: {{ row.faults.join('; ') }}
      </p>
    </div>
  </div>
</template>

<style scoped>
.hidden {
  position: absolute;
  width: 1px;
  height: 1px;
  opacity: 0;
}
.long {
  max-height: 320px;
  overflow: auto;
}
</style>
