<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { plural, span } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import { has } from '@/shared/words'
import MyRuns from './MyRuns.vue'
import { OPEN, SHAPES, WORDS } from './standing'

/** What robots do for a colleague at the press of a button: which pages reach them, and how each stands. */
type Card = Schemas['PageCard']
const query = useQuery({
  queryKey: ['runs', 'self-service'],
  queryFn: () => ask(api.GET('/api/v1/self-service')),
  refetchInterval: (one) => (one.state.data?.runs.some((run) => OPEN.includes(run.state)) ? 5_000 : 30_000),
})
const data = computed(() => query.data.value)
const words = ref('')
// From so many on they are looked through by words.
const MANY = 8
const shown = computed(() => (data.value?.pages ?? []).filter((one) => has(words.value, one.title, one.does)))
const lead = computed(() => {
  const pages = data.value?.pages ?? []
  const ready = pages.filter((one) => one.word === 'ready').length
  if (!pages.length) return ''
  const all = `${pages.length} ${plural(pages.length, 'page', 'pages')}`
  return ready === pages.length ? `${all}, all ready` : `${all}, ${ready} ready this moment`
})
const favour = useAction((one: Card) =>
  ask(
    api.PUT('/api/v1/self-service/{number}/favourite', {
      params: { path: { number: one.id } },
      body: { on: !one.favourite },
    }),
  ),
)
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="data" class="stack">
      <div class="spread">
        <div>
          <h1>Self-service</h1>
          <p class="lead">{{ lead || 'What robots do for you at the press of a button.' }}</p>
        </div>
        <el-input
          v-if="data.pages.length > MANY"
          v-model="words"
          aria-label="Words in its name or in what it does"
          placeholder="Words"
          style="--chars: 20"
        />
      </div>
      <section v-if="data.runs.length">
        <div class="spread">
          <h2>What you started</h2>
          <router-link to="/self-service/runs">All that you started</router-link>
        </div>
        <MyRuns :runs="data.runs.slice(0, 3)" />
      </section>
      <Problem :error="favour.error.value" />
      <ul v-if="shown.length" class="cards">
        <li v-for="one in shown" :key="one.id">
          <h2>
            <router-link class="whole" :to="`/self-service/${one.id}`">{{ one.title }}</router-link>
          </h2>
          <p class="does">{{ one.does }}</p>
          <p><Glyph :state="SHAPES[one.word]" :word="WORDS[one.word]" /></p>
          <p v-if="one.why" class="quiet">{{ one.why }}.</p>
          <div class="spread">
            <span class="quiet"
              ><template v-if="one.usual_seconds">takes about {{ span(one.usual_seconds) }}</template
              ><template v-if="one.usual_seconds && one.last_worked">, </template
              ><template v-if="one.last_worked">last worked <When :at="one.last_worked" near /></template
            ></span>
            <el-button
              size="small"
              :aria-pressed="one.favourite"
              :aria-label="`Favourite: ${one.title}`"
              :disabled="favour.busy.value"
              @click="favour.go(one)"
              ><span aria-hidden="true">{{ one.favourite ? '★' : '☆' }}&nbsp;</span>Favourite</el-button
            >
          </div>
        </li>
      </ul>
      <p v-else-if="data.pages.length" class="note">No page has these words; take some away.</p>
      <div v-else class="note stack tight">
        <p>
          Nothing is published to you yet. Here stand the robots that you may start yourself, once somebody
          who looks after them publishes them to you.
        </p>
        <p v-if="data.may_publish">
          A routine is published on its own page:
          <router-link to="/workshop">choose one in the Workshop</router-link>.
        </p>
        <p v-else>
          Is there work that a robot could take off you?
          <router-link to="/ideas/begin">Hand in an idea</router-link>.
        </p>
      </div>
      <p v-if="data.may_publish && data.pages.length" class="quiet">
        <router-link to="/workshop?tab=pages">The pages as those who publish them see them</router-link>
      </p>
    </div>
  </Loaded>
</template>

<style scoped>
.cards {
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(min(100%, 340px), 1fr));
  gap: 0 32px;
}
.cards li {
  display: flex;
  flex-direction: column;
  gap: 6px;
  padding: 16px 0;
  border-top: 1px solid var(--hair);
}
.cards p,
.cards h2 {
  margin: 0;
}
.cards .spread {
  margin-top: auto;
}
.does {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 3;
  overflow: hidden;
}
</style>
