<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import Confirm from '@/shared/Confirm.vue'
import { several } from '@/shared/format'
import Glyph from '@/shared/Glyph.vue'
import History from '@/shared/History.vue'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import { HOW_SAID, PART_SAID, PART_SHAPES } from './rollout'

/** A roll-out: how the first of it do, what became of each routine, and the ways on and back. */
const LOOKS_AGAIN_MS = 10_000
const route = useRoute()
const id = computed(() => Number(route.params.id))
const path = computed(() => ({ params: { path: { number: id.value } } }))
const query = useQuery({
  queryKey: ['rollouts', 'one', id],
  queryFn: () => ask(api.GET('/api/v1/rollouts/{number}', path.value)),
  refetchInterval: (one) => (one.state.data?.state === 'under way' ? LOOKS_AGAIN_MS : false),
})
const data = computed(() => query.data.value)
const waits = computed(() => (data.value?.parts ?? []).filter((one) => one.state === 'waits').length)
const asked = ref<'on' | 'back' | null>(null)
const go = useAction(async () => {
  if (asked.value === 'on') await ask(api.POST('/api/v1/rollouts/{number}/go-on', path.value))
  else await ask(api.POST('/api/v1/rollouts/{number}/back', path.value))
  asked.value = null
})
const under = computed(() => data.value?.state === 'under way')
const mayGoBack = computed(() => under.value || (data.value?.state === 'done' && data.value.still > 0))
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="data" class="stack">
      <div class="spread">
        <div>
          <p class="quiet">
            <router-link to="/workshop">Workshop</router-link> ·
            <router-link :to="`/workshop/releases/${data.release_id}`"
              >{{ data.package }} {{ data.version }}</router-link
            >
          </p>
          <h1>Roll-out of {{ data.package }} {{ data.version }}</h1>
          <p class="lead">
            {{ data.person }} rolls it out {{ HOW_SAID[data.how]
            }}<template v-if="data.first"
              >, first {{ data.first.startsWith('the robot') ? 'on' : 'in' }} {{ data.first }}</template
            >, <When :at="data.made_at" />: “{{ data.why }}”
          </p>
        </div>
        <div v-if="data.may && mayGoBack" class="row">
          <el-button v-if="under" type="primary" @click="asked = 'on'">Let the rest follow now</el-button>
          <el-button @click="asked = 'back'">Go back</el-button>
        </div>
      </div>
      <p class="row state" role="status">
        <Glyph :state="under ? 'running' : data.state === 'done' ? 'done' : 'lost'" :word="data.state" />
        <span v-if="data.said && under">{{ data.said }}.</span>
        <span v-else-if="data.ended_at"
          ><When :at="data.ended_at" /><template v-if="data.ended_words"
            >: {{ data.ended_words }}</template
          ></span
        >
      </p>
      <p v-if="under && data.how === 'staged'" class="quiet">
        The rest follows by itself after {{ several(data.good_wanted, 'run', 'runs') }} that ended well, and
        all go back by themselves at {{ several(data.bad_allowed + 1, 'run', 'runs') }} that failed or
        {{ data.bad_allowed ? 'were' : 'was' }} lost. Counted are runs of {{ data.version }} that
        {{ data.first.startsWith('the robot') ? `${data.first} took` : `began in ${data.first}` }} since then.
      </p>
      <p v-if="data.against && mayGoBack" class="quiet">{{ data.against }}</p>
      <table class="ledger stacks">
        <thead>
          <tr>
            <th>Routine</th>
            <th>Instead of</th>
            <th>What became of it</th>
            <th class="num">Ended well</th>
            <th class="num">Failed or lost</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="part in data.parts" :key="part.routine_id">
            <td class="whole">
              <router-link :to="`/workshop/routines/${part.routine_id}`">{{ part.routine }}</router-link>
              <div class="quiet">
                {{ part.area }}{{ data.how === 'staged' && part.goes_first ? ', goes first' : '' }}
              </div>
            </td>
            <td data-head="instead of">
              <router-link :to="`/workshop/releases/${part.old_release}`">{{ part.old_version }}</router-link>
            </td>
            <td data-head="what became of it">
              <Glyph :state="PART_SHAPES[part.state]" :word="PART_SAID[part.state]" />
              <div v-if="part.words" class="quiet">{{ part.words }}</div>
            </td>
            <td class="num" data-head="ended well">
              <router-link v-if="part.goes_first" :to="`/runs?routine=${part.routine_id}`">{{
                part.good
              }}</router-link><template v-else>–</template>
            </td>
            <td class="num" data-head="failed or lost">{{ part.goes_first ? part.bad : '–' }}</td>
          </tr>
        </tbody>
      </table>
      <p v-if="data.unseen" class="quiet">
        {{ several(data.unseen, 'more routine', 'more routines') }} of it you do not see.
      </p>
      <Confirm
        :model-value="asked !== null"
        :title="asked === 'on' ? 'Let the rest follow now' : 'Go back'"
        :action="asked === 'on' ? 'Let the rest follow' : 'Go back'"
        :busy="go.busy.value"
        @update:model-value="asked = null"
        @yes="go.go()"
      >
        <p v-if="asked === 'on'">
          {{ several(waits, 'routine takes', 'routines take') }} {{ data.package }} {{ data.version }} at
          once, whatever the first did: {{ data.said }}.
        </p>
        <p v-else>
          {{
            data.still
              ? `${several(data.still, 'routine takes', 'routines take')} the release and the inputs of before again, with what waits and was not begun. What runs goes on to its end.`
              : 'No routine has it yet; none takes it.'
          }}
        </p>
        <Problem :error="go.error.value" />
      </Confirm>
      <History subject="rollout" :number="id" about="rollouts" />
    </div>
  </Loaded>
</template>
