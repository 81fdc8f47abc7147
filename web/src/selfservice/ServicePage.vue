<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { api, ask, newKey } from '@/api/client'
import { useAction } from '@/shared/action'
import { number, plural, several, span } from '@/shared/format'
import FormEnd from '@/shared/FormEnd.vue'
import Glyph from '@/shared/Glyph.vue'
import { later } from '@/shared/later'
import Loaded from '@/shared/Loaded.vue'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'
import When from '@/shared/When.vue'
import { formOf, keepInputFilesBy } from '@/shared/inputFile'
import SchemaForm from '@/shared/SchemaForm.vue'
import { SHAPES, WORDS } from './standing'

const SayAboutIt = later(() => import('./SayAboutIt.vue'))
const WhatIsSaid = later(() => import('./WhatIsSaid.vue'))

/** One page of self-service: what it does, what it needs and asks, how it stands, and the button. */
const route = useRoute()
const router = useRouter()
const id = computed(() => Number(route.params.id))
const path = computed(() => ({ number: id.value }))
const query = useQuery({
  queryKey: ['routines', 'self-service', id],
  queryFn: () => ask(api.GET('/api/v1/self-service/{number}', { params: { path: path.value } })),
  refetchInterval: 15_000,
})
const page = computed(() => query.data.value)
const inputs = ref<Record<string, unknown>>({})
const ready = ref(false)
// What the set-up says stands there first.
watch(
  page,
  (now) => {
    if (!now || ready.value) return
    inputs.value = { ...now.inputs }
    ready.value = true
  },
  { immediate: true },
)
const draft = useDraft(
  'What it is given',
  () => `self-service-${id.value}`,
  { inputs },
  { ready: () => ready.value },
)
keepInputFilesBy((file) =>
  ask(
    api.POST('/api/v1/self-service/{number}/input-files', {
      params: { path: path.value },
      ...formOf(file),
    }),
  ),
)
const asksNothing = computed(() => !Object.keys(page.value?.input_schema.properties ?? {}).length)
const key = newKey()
const start = useAction(async () => {
  const made = await ask(
    api.POST('/api/v1/self-service/{number}/runs', {
      params: { path: path.value, header: { 'idempotency-key': key } },
      body: { inputs: inputs.value },
    }),
  )
  draft.done()
  await router.push(`/self-service/runs/${made.id}`)
})
const marks = computed(() => {
  const sums = page.value?.sums
  if (!sums?.ratings) return ''
  const by = several(sums.ratings, 'colleague', 'colleagues')
  return `${number(sums.marks, 1)} of 5 marks from ${by}`
})
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="page" class="stack">
      <div>
        <p class="quiet"><router-link to="/self-service">Self-service</router-link></p>
        <h1>{{ page.title }}</h1>
        <p class="lead said">{{ page.does }}</p>
        <p><Glyph :state="SHAPES[page.word]" :word="WORDS[page.word]" /></p>
      </div>
      <p v-if="page.why" class="note" :class="{ care: page.word !== 'ready' }" role="status">
        {{ page.why }}.
      </p>
      <div class="two">
        <form class="stack tight" @submit.prevent="start.go()">
          <DraftNote :draft="draft" />
          <p v-if="asksNothing" class="quiet">It asks you nothing: press the button.</p>
          <SchemaForm
            v-else
            v-model="inputs"
            :schema="page.input_schema"
            :error="start.error.value"
            :disabled="page.word === 'not now'"
          />
          <FormEnd
            :action="page.word === 'waits' ? 'Start it, and let it wait' : 'Start it'"
            :busy="start.busy.value"
            :error="start.error.value"
            :fields="['inputs.']"
            :wait="page.word === 'not now' ? page.why : ''"
          />
        </form>
        <section class="stack tight about">
          <template v-if="page.needs">
            <h2>What you need</h2>
            <p class="said">{{ page.needs }}</p>
          </template>
          <dl class="facts">
            <template v-if="page.usual_seconds">
              <dt>Takes about</dt>
              <dd>{{ span(page.usual_seconds) }}</dd>
            </template>
            <dt>Last worked</dt>
            <dd>
              <When v-if="page.last_worked" :at="page.last_worked" /><template v-else>not yet</template>
            </dd>
            <template v-if="page.attended">
              <dt>Where</dt>
              <dd>on <router-link to="/my-computer">your own computer</router-link></dd>
            </template>
            <dt>Ask</dt>
            <dd>
              <a :href="`mailto:${page.keeper_email}`">{{ page.keeper }}</a><template v-if="!page.keeper_here"
                >, who is not here any more</template
              >
            </dd>
            <dt>Used</dt>
            <dd>
              {{ several(page.sums.runs, 'time', 'times') }} by {{ page.sums.people }}
              {{ plural(page.sums.people, 'colleague', 'colleagues')
              }}<template v-if="marks">; {{ marks }}</template>
            </dd>
          </dl>
          <p v-if="page.routine_id" class="quiet">
            <router-link :to="`/workshop/routines/${page.routine_id}`">The routine behind it</router-link> ·
            <router-link :to="`/workshop/routines/${page.routine_id}/self-service`"
              >how it is published</router-link
            >
          </p>
        </section>
      </div>
      <SayAboutIt :page="page" />
      <WhatIsSaid v-if="page.said" :said="page.said" />
    </div>
  </Loaded>
</template>

<style scoped>
.said {
  white-space: pre-line;
  margin: 0;
}
.facts {
  display: grid;
  grid-template-columns: max-content 1fr;
  gap: 4px 16px;
  align-items: baseline;
  margin: 0;
}
.facts dd {
  margin: 0;
}
</style>
