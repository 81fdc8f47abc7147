<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import FirstSteps from '@/people/FirstSteps.vue'
import { useAction } from '@/shared/action'
import Glyph from '@/shared/Glyph.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import When from '@/shared/When.vue'
import Steps from '@/shared/Steps.vue'
import OfOthers from './OfOthers.vue'
import WaitRow from './WaitRow.vue'
import { several } from '@/shared/format'

const route = useRoute()
const { me, may } = useMe()
const query = useQuery({ queryKey: ['today'], queryFn: () => ask(api.GET('/api/v1/today')) })
const today = computed(() => query.data.value)
// One's own decisions first; what others were given stands folded below them.
const own = computed(() => today.value?.waits.filter((one) => !one.duty_of) ?? [])
const others = computed(() => today.value?.waits.filter((one) => one.duty_of) ?? [])
const summary = computed(() => {
  const waits = own.value.reduce((sum, one) => sum + one.stands_for, 0)
  const wrong = today.value?.wrong.length ?? 0
  const first = waits ? `${several(waits, 'thing waits', 'things wait')} for you` : 'Nothing waits for you'
  return today.value?.sees_runs ? `${first}, ${wrong || 'nothing'} went wrong since yesterday.` : `${first}.`
})
const told = computed(() => today.value?.told ?? [])
const unread = computed(() => told.value.filter((one) => !one.read_at))
const read = useAction(() =>
  ask(
    api.POST('/api/v1/notifications/read', {
      params: { query: { upto: Math.max(0, ...told.value.map((one) => one.id)) } },
    }),
  ),
)
</script>

<template>
  <div class="stack">
    <div class="spread">
      <div>
        <h1>Today</h1>
        <p v-if="today" class="lead">{{ summary }}</p>
      </div>
      <router-link to="/ideas/new" class="button" :class="{ filled: !own.length }"
        >Hand in an idea</router-link
      >
    </div>
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <template v-if="today">
        <FirstSteps v-if="me && !me.roles.length" />
        <section v-if="today.steps.length">
          <h2>First steps</h2>
          <Steps :steps="today.steps" />
        </section>
        <section>
          <h2>What waits for me</h2>
          <p v-if="!own.length" class="note">Nothing. What needs you comes here by itself, and by mail.</p>
          <table v-else class="ledger">
            <thead>
              <tr>
                <th style="width: 84px">To do</th>
                <th>What</th>
                <th class="num">Due, or decide it here</th>
              </tr>
            </thead>
            <tbody>
              <WaitRow v-for="one in own" :key="one.kind + one.link" :one="one" />
            </tbody>
          </table>
        </section>
        <OfOthers :waits="others" />
        <section v-if="may('run.see')">
          <h2>What went wrong since yesterday</h2>
          <p v-if="!today.wrong.length" class="note">Nothing went wrong.</p>
          <table v-else class="ledger">
            <tbody>
              <tr v-for="one in today.wrong" :key="one.title + one.at">
                <td style="width: 96px"><Glyph :state="one.state" /></td>
                <td>
                  <router-link class="whole" :to="one.link">{{ one.title }}</router-link>
                  <div class="quiet">{{ one.words }}</div>
                </td>
                <td class="num"><When :at="one.at" /></td>
              </tr>
            </tbody>
          </table>
        </section>
        <section v-if="may('routine.see')">
          <h2>What comes next</h2>
          <p v-if="!today.coming.length" class="note">
            No routine starts on the clock yet.
            <router-link to="/workshop">Set one up in the Workshop.</router-link>
          </p>
          <table v-else class="ledger">
            <tbody>
              <tr v-for="one in today.coming" :key="one.id">
                <td style="width: 96px"><When :at="one.next_at" near /></td>
                <td>
                  <router-link class="whole" :to="`/workshop/routines/${one.routine_id}`">{{
                    one.routine
                  }}</router-link>
                </td>
                <td class="num"><When :at="one.next_at" /></td>
              </tr>
            </tbody>
          </table>
        </section>
        <section v-if="today.mine.length">
          <h2>My ideas</h2>
          <table class="ledger">
            <tbody>
              <tr v-for="idea in today.mine" :key="idea.id">
                <td style="width: 120px"><Glyph :state="idea.stage" /></td>
                <td>
                  <router-link
                    class="whole"
                    :to="idea.stage === 'draft' ? `/ideas/new/${idea.id}` : `/ideas/${idea.id}`"
                  >
                    I-{{ idea.id }} {{ idea.title || 'without a name' }}
                  </router-link>
                </td>
                <td class="num"><When :at="idea.stage_since" day /></td>
              </tr>
            </tbody>
          </table>
        </section>
      </template>
    </Loaded>
    <MarginNotes :holds="told.length > 0">
      <section class="stack tight">
        <p class="spread">
          <span><h2>Told to me</h2></span>
          <el-button v-if="unread.length" link type="primary" @click="read.go()">Mark as read</el-button>
        </p>
        <p v-if="!told.length" class="quiet">
          Nothing yet, {{ me?.name }}. What happens to your ideas is told here.
        </p>
        <ol :class="{ lit: route.query.told }">
          <li v-for="one in told" :key="one.id" :class="{ unread: !one.read_at }">
            <router-link :to="one.link">{{ one.text }}</router-link>
            <div class="quiet"><When :at="one.at" /></div>
          </li>
        </ol>
      </section>
    </MarginNotes>
  </div>
</template>

<style scoped>
ol {
  margin: 0;
  padding: 0;
  list-style: none;
  font-size: 13px;
}
li {
  padding: 6px 0;
  border-bottom: 1px solid var(--hair);
}
li a {
  color: var(--ink-2);
}
li.unread a {
  color: var(--ink);
  font-weight: 600;
}
</style>
