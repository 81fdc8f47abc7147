<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useNow } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { lasted, span } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import HandedFiles from '@/shared/HandedFiles.vue'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import RunProgress from '@/runs/RunProgress.vue'
import { OPEN } from './standing'

/** One's own run: how it stands in a sentence, what it was given, what came of it. */
const route = useRoute()
const now = useNow({ interval: 1_000 })
const id = computed(() => Number(route.params.id))
const path = computed(() => ({ number: id.value }))
const query = useQuery({
  queryKey: ['runs', 'self-service', 'one', id],
  queryFn: () => ask(api.GET('/api/v1/self-service/runs/{number}', { params: { path: path.value } })),
  refetchInterval: (one) => (OPEN.includes(one.state.data?.run.state ?? '') ? 2_000 : false),
})
const data = computed(() => query.data.value)
const run = computed(() => data.value?.run)
const time = computed(() => {
  const one = run.value
  if (!one?.started_at) return ''
  return lasted(one.started_at, one.ended_at, one.ended_at ?? now.value.toISOString())
})
// That it is done stands above; what there is to say beside that stands here.
const plain = computed(() => run.value?.state === 'done' && run.value.said === 'Done')
const stopping = ref(false)
const stop = useAction(async () => {
  await ask(api.POST('/api/v1/self-service/runs/{number}/stop', { params: { path: path.value } }))
  stopping.value = false
})
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="data && run" class="stack">
      <div class="spread">
        <div>
          <p class="quiet">
            <router-link to="/self-service">Self-service</router-link> ·
            <router-link to="/self-service/runs">what I started</router-link>
          </p>
          <h1>{{ run.title }}</h1>
          <p class="lead">
            <Glyph :state="run.state" /><template v-if="time">, {{ time }}</template
            ><template v-if="run.state === 'running' && data.usual_seconds"
              >, usually {{ span(data.usual_seconds) }}</template
            >
          </p>
        </div>
        <div class="row">
          <template v-if="run.may_stop">
            <el-button v-if="!stopping" @click="stopping = true">Stop it</el-button>
            <el-button v-else type="danger" :disabled="stop.busy.value" @click="stop.go()"
              >Yes, stop it</el-button
            >
          </template>
          <router-link v-else-if="!run.stopping" :to="`/self-service/${run.page_id}`" class="button filled"
            >Start it again</router-link
          >
        </div>
      </div>
      <Problem :error="stop.error.value" />
      <p
        v-if="!plain"
        class="note"
        :class="{ bad: ['failed', 'lost', 'lapsed'].includes(run.state) }"
        role="status"
      >
        {{ run.stopping && OPEN.includes(run.state) ? 'It is being stopped' : run.said }}.
      </p>
      <RunProgress v-if="run.progress && run.state === 'running'" :progress="run.progress" />
      <section v-if="data.files.length">
        <h2>Files for you</h2>
        <HandedFiles :at="`/api/v1/self-service/runs/${id}/files`" :files="data.files" />
      </section>
      <div class="two">
        <section v-if="data.outputs.length">
          <h2>What came of it</h2>
          <dl class="facts">
            <template v-for="one in data.outputs" :key="one.name">
              <dt>{{ one.name }}</dt>
              <dd>{{ one.value }}</dd>
            </template>
          </dl>
        </section>
        <section>
          <h2>What it was given</h2>
          <p v-if="!data.inputs.length" class="quiet">Nothing.</p>
          <dl v-else class="facts">
            <template v-for="one in data.inputs" :key="one.name">
              <dt>{{ one.name }}</dt>
              <dd>{{ one.value }}</dd>
            </template>
          </dl>
        </section>
      </div>
      <p class="quiet">
        R-{{ run.id }}, started <When :at="run.made_at" />. Something is not as it should be? Ask
        <a :href="`mailto:${data.keeper_email}?subject=R-${run.id} ${run.title}`">{{ data.keeper }}</a>.
      </p>
    </div>
  </Loaded>
</template>

<style scoped>
.facts {
  display: grid;
  grid-template-columns: minmax(80px, max-content) 1fr;
  gap: 4px 16px;
  margin: 0;
}
.facts dd {
  margin: 0;
  overflow-wrap: anywhere;
}
</style>
