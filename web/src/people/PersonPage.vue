<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import { seeAs } from '@/api/seeing'
import { useMe } from '@/shared/session'
import { useAction } from '@/shared/action'
import History from '@/shared/History.vue'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import HeldRoles from '@/access/HeldRoles.vue'
import HouseTabs from '@/shared/HouseTabs.vue'
import LeavePerson from './LeavePerson.vue'
import MayThey from '@/access/MayThey.vue'

/** One person: what they hold, what that allows and where, and why they may or may not. */
const route = useRoute()
const number = computed(() => Number(route.params.id))
const { me, may } = useMe()
const leaving = ref(false)
const query = useQuery({
  queryKey: ['people', 'one', number],
  queryFn: () => ask(api.GET('/api/v1/people/{number}', { params: { path: { number: number.value } } })),
})
const person = computed(() => query.data.value)
const access = useQuery({
  queryKey: ['access', 'of', number],
  queryFn: () =>
    ask(api.GET('/api/v1/access/people/{number}', { params: { path: { number: number.value } } })),
  enabled: computed(() => may('access.see')),
})
// One row for what holds in the same places.
const allowed = computed(() =>
  (access.data.value?.lines ?? []).flatMap((line) =>
    [...new Set(line.may.map((one) => one.where))].map((where, n) => ({
      subject: n ? '' : line.subject,
      words: line.may
        .filter((one) => one.where === where)
        .map((one) => one.words)
        .join('; '),
      where,
    })),
  ),
)
const factor = useAction(() =>
  ask(api.DELETE('/api/v1/people/{number}/second-factor', { params: { path: { number: number.value } } })),
)
const again = useAction(() =>
  ask(api.POST('/api/v1/people/{number}/invitations', { params: { path: { number: number.value } } })),
)
const back = useAction(() =>
  ask(api.DELETE('/api/v1/people/{number}/leaving', { params: { path: { number: number.value } } })),
)
</script>

<template>
  <div class="stack">
    <HouseTabs />
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <template v-if="person">
        <div class="spread">
          <div>
            <h1>{{ person.name }}</h1>
            <p class="lead">
              {{ person.email }}<template v-if="person.division">, {{ person.division }}</template
              >; {{ person.state
              }}<template v-if="person.seen_at">, last seen <When :at="person.seen_at" /></template>
            </p>
          </div>
          <div class="row">
            <el-button v-if="person.state === 'invited'" :disabled="again.busy.value" @click="again.go()">
              Send the invitation again
            </el-button>
            <el-button
              v-if="may('access.see') && person.state === 'active' && person.id !== me?.id"
              @click="seeAs(`person:${person.id}`)"
            >
              See as {{ person.name.split(' ')[0] }}
            </el-button>
            <el-button
              v-if="may('person.retire') && person.state !== 'left' && person.id !== me?.id"
              @click="leaving = !leaving"
            >
              Deactivate …
            </el-button>
            <el-button v-if="may('person.retire') && person.state === 'left'" @click="back.go()">
              Bring back
            </el-button>
          </div>
        </div>
        <p v-if="person.factor">
          Signs in with a second factor.
          <el-button
            v-if="may('person.change') && person.id !== me?.id"
            :disabled="factor.busy.value"
            link
            type="primary"
            @click="factor.go()"
          >
            They lost it: take it away
          </el-button>
        </p>
        <Problem :error="again.error.value ?? back.error.value ?? factor.error.value" />
        <LeavePerson v-if="leaving" :person="person.id" @done="leaving = false" @leave="leaving = false" />
        <HeldRoles :person="person.id" title="Roles held in person" :fixed="person.state === 'left'">
          None. {{ person.name }} may hand in ideas and sees those they have a part in{{
            person.groups_in ? `, and what the groups ${person.groups_in} hold` : ''
          }}.
        </HeldRoles>
        <section
          v-if="access.data.value?.groups.length || access.data.value?.breaches.length"
          class="stack tight"
        >
          <p v-if="access.data.value?.groups.length" class="quiet">
            In the groups {{ access.data.value.groups.join(', ') }}.
          </p>
          <p v-for="words in access.data.value?.breaches" :key="words" class="note care">
            One person holds what should be apart: {{ words }}.
          </p>
        </section>
        <MayThey v-if="may('access.see')" :key="person.id" :person="person.id" :name="person.name" />
        <section v-if="allowed.length" class="stack tight">
          <h2>What that allows</h2>
          <table class="ledger">
            <thead>
              <tr>
                <th style="width: 22%">About</th>
                <th>May</th>
                <th>Where</th>
              </tr>
            </thead>
            <tbody>
              <tr v-for="line in allowed" :key="line.subject + line.where">
                <td>{{ line.subject }}</td>
                <td>{{ line.words }}</td>
                <td class="quiet">{{ line.where }}</td>
              </tr>
            </tbody>
          </table>
        </section>
        <History subject="person" :number="person.id" about="people" />
      </template>
    </Loaded>
  </div>
</template>
