<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import Problem from '@/shared/Problem.vue'
import SheetLines from './SheetLines.vue'
import SheetReady from './SheetReady.vue'
import FileField from '@/shared/FileField.vue'
import Progress from '@/shared/Progress.vue'
import FormerLists from './FormerLists.vue'
import { several, plural } from '@/shared/format'
import Fold from '@/shared/Fold.vue'

/** Bringing a list: the file, what its columns are, what would become of each line, then bringing it in. */
const route = useRoute()
const router = useRouter()
const id = computed(() => Number(route.params.id) || 0)
const over = ref(false)

async function send(file: File, page?: string) {
  const form = new FormData()
  form.set('file', file)
  return ask(
    api.POST('/api/v1/sheets', {
      params: { query: page ? { page } : {} },
      body: form as unknown as { file: string },
      bodySerializer: () => form,
    }),
  )
}
// Another page of the same file can be asked for while the file is at hand.
const file = ref<File | null>(null)
const bring = useAction(async (given: File, page?: string) => {
  file.value = given
  const made = await send(given, page)
  await router.push(`/ideas/bring/${made.id}`)
})
function take([given]: Iterable<File>) {
  if (given) void bring.go(given)
}
const query = useQuery({
  queryKey: ['sheets', 'one', id],
  enabled: () => id.value > 0,
  queryFn: () => ask(api.GET('/api/v1/sheets/{number}', { params: { path: { number: id.value } } })),
  refetchInterval: (state) =>
    ['waiting', 'running'].includes(state.state.data?.errand_state ?? '') ? 1000 : false,
})
const sheet = computed(() => query.data.value)
const under = computed(() => ['waiting', 'running'].includes(sheet.value?.errand_state ?? ''))
const path = computed(() => ({ path: { number: id.value } }))
const begin = useAction(async () => {
  await ask(
    api.POST('/api/v1/sheets/{number}/begin', {
      params: { ...path.value, header: { 'if-match': `"${sheet.value?.version ?? 0}"` } },
    }),
  )
})
const stop = useAction(() =>
  ask(api.DELETE('/api/v1/errands/{number}', { params: { path: { number: sheet.value?.errand ?? 0 } } })),
)
const open = computed(() => sheet.value?.lines.filter((line) => line.open).length ?? 0)
const comes = computed(
  () => sheet.value?.lines.filter((line) => line.open && line.state === 'in').length ?? 0,
)
</script>

<template>
  <div class="stack">
    <div>
      <p v-if="id" class="quiet"><router-link to="/ideas/bring">Bring a list</router-link></p>
      <h1>{{ id ? (sheet?.name ?? 'A list') : 'Bring a list of ideas' }}</h1>
      <p v-if="!id" class="lead">
        From a spreadsheet, as it is: say which column is what, see what becomes of each line, then bring it
        in.
      </p>
    </div>
    <template v-if="!id">
      <div
        class="drop"
        :class="{ over }"
        @dragover.prevent="over = true"
        @dragleave="over = false"
        @drop.prevent="((over = false), take($event.dataTransfer?.files ?? []))"
      >
        <FileField
          :words="bring.busy.value ? 'Reading it …' : 'Choose the file'"
          label="Spreadsheet"
          accept=".xlsx,.csv,.txt,.tsv"
          @chosen="take"
        />
        <span class="quiet"
          >or drop it here; XLSX or CSV, up to 10 MB and 5,000 lines. Nothing comes in yet.</span
        >
      </div>
      <Problem :error="bring.error.value" />
      <FormerLists />
    </template>
    <Loaded v-else :pending="query.isPending.value" :error="query.error.value">
      <div v-if="sheet" class="stack">
        <p v-if="sheet.pages.length > 1 && !sheet.errand" class="row">
          Page
          <el-button
            v-for="one in sheet.pages"
            :key="one"
            class="chip"
            :class="{ on: one === sheet.page }"
            :disabled="!file && one !== sheet.page"
            @click="file && one !== sheet.page && bring.go(file, one)"
          >
            {{ one }}
          </el-button>
          <span v-if="!file" class="quiet">To read another page, choose the file once more.</span>
        </p>
        <SheetReady v-if="!sheet.errand" :sheet="sheet" :error="begin.error.value" />
        <Fold
          v-else-if="!under && (sheet.counts.fault || sheet.counts.conflict)"
          words="Match columns and words anew, or bring lines in without what cannot be read"
        >
          <SheetReady :sheet="sheet" :error="begin.error.value" />
        </Fold>
        <section class="stack tight">
          <h2>{{ sheet.errand ? 'What became of each line' : 'What would become of each line' }}</h2>
          <div v-if="under" class="stack tight" role="status">
            <Progress :done="sheet.errand_done" :of="sheet.total" label="Read line by line" />
            <p class="row">
              {{ sheet.errand_done }} of {{ sheet.total }} lines; {{ sheet.errand_words || 'about to begin' }}
              <el-button @click="stop.go()">Stop</el-button>
              <span class="quiet">It goes on when you leave this page.</span>
            </p>
          </div>
          <p v-else-if="sheet.errand_state" class="note" role="status">
            <b>{{
              sheet.errand_state === 'done'
                ? 'Done.'
                : sheet.errand_state === 'failed'
                  ? 'Not done.'
                  : 'Stopped.'
            }}</b>
            {{ sheet.errand_words }}.
            <template v-if="open"> {{ several(open, 'line waits', 'lines wait') }}.</template>
          </p>
          <p v-if="!under" class="row">
            <el-button
              v-if="!sheet.errand || open"
              :disabled="begin.busy.value || !!sheet.asked.length || (!sheet.errand && !comes)"
              type="primary"
              @click="begin.go()"
              >{{ sheet.errand ? `Go on with ${open} more` : `Bring in ${several(comes, 'idea', 'ideas')}` }}
            </el-button>
            <a v-if="sheet.counts.fault" class="button" :href="`/api/v1/sheets/${sheet.id}/left-out.csv`">
              Take out the {{ sheet.counts.fault }} that {{ plural(sheet.counts.fault, 'stays', 'stay') }} out
            </a>
            <router-link v-if="sheet.errand" to="/ideas?source=spreadsheet&sort=newest" class="button"
              >See them in the list</router-link
            >
            <span v-if="sheet.asked.length" class="quiet"
              >Say first whether what was told by the contents is right; see above.</span
            >
            <span v-else-if="!sheet.errand && !comes" class="quiet"
              >No line comes in as it is; see why below.</span
            >
          </p>
          <Problem
            :error="begin.error.value ?? stop.error.value ?? bring.error.value"
            :fields="['why', 'back_on', 'declined_for']"
          />
          <SheetLines :sheet="sheet" :past="sheet.errand !== null" />
        </section>
      </div>
    </Loaded>
    <MarginNotes>
      <section class="stack tight">
        <h2>How a list comes in</h2>
        <p class="quiet">
          Every line is looked at first: numbers with any marks, minutes as 1:30 or 1.5 h, days in many forms,
          people by mail address or name. What cannot be read is named with its line, column and mend.
        </p>
        <p class="quiet">
          Nothing is taken for granted: a column without a head of ours is told by what stands in it and asked
          of you, words are matched once for all lines, and a cell is mended where it stands.
        </p>
        <p class="quiet">
          An idea comes in once: by its number over there if a column gives it, otherwise by its name and
          description. Bring the same list again, or a mended one, and only what is new comes in.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>
