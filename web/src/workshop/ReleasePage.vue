<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import { size, plural } from '@/shared/format'
import History from '@/shared/History.vue'
import Loaded from '@/shared/Loaded.vue'
import When from '@/shared/When.vue'
import Problem from '@/shared/Problem.vue'
import { useAction } from '@/shared/action'
import { later } from '@/shared/later'
import { inWords, kindSaid, type Schema } from '@/shared/schema'
import { seenBy } from './seenBy'

const ReleaseDifferences = later(() => import('./ReleaseDifferences.vue'))
const ReleaseApproval = later(() => import('./ReleaseApproval.vue'))
const MoveRelease = later(() => import('./MoveRelease.vue'))
const TryIt = later(() => import('./TryIt.vue'))
const Retire = later(() => import('@/shared/Retire.vue'))
// From where it came; from a page is nothing to say.
const FROM = { page: '', command: ' by command', pipeline: ' by a pipeline' } as const

/** One release: what it asks for, what it gives, what it holds. */
const route = useRoute()
const { may } = useMe()
const id = computed(() => Number(route.params.id))
const query = useQuery({
  queryKey: ['packages', 'one', id],
  queryFn: () => ask(api.GET('/api/v1/releases/{number}', { params: { path: { number: id.value } } })),
})
const data = computed(() => query.data.value)
const path = computed(() => ({ params: { path: { number: id.value } } }))
const withdrawing = ref(false)
const moving = ref(false)
const back = useAction(() => ask(api.POST('/api/v1/releases/{number}/bring-back', path.value)))
const rows = (schema: Record<string, unknown> | undefined) => {
  const required = (schema?.required ?? []) as string[]
  return Object.entries((schema?.properties ?? {}) as Record<string, Schema>).map(([name, one]) => ({
    name,
    ...one,
    needed: required.includes(name),
  }))
}
const tables = computed(() => [
  { name: 'Inputs', rows: rows(data.value?.inputs), none: 'It takes no inputs.' },
  { name: 'Outputs', rows: rows(data.value?.outputs), none: 'It declares no outputs.' },
])
</script>

<template>
  <Loaded :pending="query.isPending.value" :error="query.error.value">
    <div v-if="data" class="stack">
      <div class="spread">
        <div>
          <p class="quiet"><router-link to="/workshop?tab=packages">Packages</router-link></p>
          <h1>{{ data.package }} {{ data.version }}</h1>
          <p class="lead">{{ data.about }}</p>
          <p v-if="data.withdrawn_at" class="note care">
            <b>Withdrawn</b> on <When :at="data.withdrawn_at" day />:
            {{ data.withdrawn_why || 'no reason was given' }}. It starts nothing anew.
          </p>
        </div>
        <div v-if="!data.withdrawn_at && data.seen_by !== 'maker'" class="row">
          <router-link
            v-if="may('routine.change')"
            :to="`/workshop/releases/${data.id}/roll-out`"
            class="button"
            >Roll it out</router-link
          >
          <router-link
            v-if="may('routine.make')"
            :to="`/workshop/routines/new?release=${data.id}`"
            class="button filled"
            >Set up as a routine</router-link
          >
        </div>
      </div>
      <p>
        Released by {{ data.person }}{{ FROM[data.origin] }}, <When :at="data.at" />.
        {{ data.signed_by ? `Signed by the key ${data.signed_by}.` : 'Not signed.' }}
        <template v-if="data.note">“{{ data.note }}”</template> Needs a robot with the tags
        <b>{{ data.tags.join(', ') || 'none' }}</b>. Starts with {{ data.entry }}.
        {{
          data.checkpoints
            ? 'It has checkpoints, so its runs can be paused.'
            : 'It has no checkpoints, so its runs cannot be paused.'
        }}
        <template v-if="data.counts.length">It counts {{ data.counts.join(', ') }}.</template>
        <template v-if="data.secrets?.length">
          It asks for the {{ plural(data.secrets.length, 'secret', 'secrets') }}
          <b>{{ data.secrets.join(', ') }}</b>.
        </template>
      </p>
      <p>
        Seen by <b>{{ seenBy(data) }}</b>.
        <template v-if="data.seen_by === 'maker'"
          >It is a try-out: it gets its number once others see it.</template
        >
        <el-button v-if="data.may_move" link type="primary" @click="moving = true">{{
          data.seen_by === 'maker' ? 'Let others see it' : 'Change who sees it'
        }}</el-button>
      </p>
      <TryIt v-if="data.tries && !data.withdrawn_at" :release="data" />
      <ReleaseApproval
        v-if="data.seen_by !== 'maker'"
        :release="data.id"
        :name="`${data.package} ${data.version}`"
      />
      <ReleaseDifferences :release="data" />
      <section v-if="data.wheels?.length">
        <h2>Requires</h2>
        <ul>
          <li v-for="wheel in data.wheels" :key="wheel.digest">
            {{ wheel.name }} <span class="quiet">SHA-256 {{ wheel.digest.slice(0, 16) }}…</span>
          </li>
        </ul>
      </section>
      <section v-for="table in tables" :key="table.name">
        <h2>{{ table.name }}</h2>
        <p v-if="!table.rows.length" class="quiet">{{ table.none }}</p>
        <table v-else class="ledger">
          <tbody>
            <tr v-for="row in table.rows" :key="row.name">
              <td style="width: 200px">
                <b>{{ row.name }}</b>
                <div class="quiet">{{ kindSaid(row) }}{{ row.needed ? ', needed' : '' }}</div>
              </td>
              <td>
                {{ row.title }}
                <div class="quiet">{{ row.description }}</div>
              </td>
              <td class="num quiet">{{ row.default === undefined ? '' : `else ${inWords(row.default)}` }}</td>
            </tr>
          </tbody>
        </table>
      </section>
      <section>
        <h2>Files, {{ size(data.size) }} packed</h2>
        <table class="ledger">
          <tbody>
            <tr v-for="[name, bytes] in data.files" :key="name">
              <td>{{ name }}</td>
              <td class="num">{{ size(Number(bytes)) }}</td>
            </tr>
          </tbody>
        </table>
        <p class="quiet digest">SHA-256 {{ data.digest }}</p>
        <p>
          <a :href="`/api/v1/releases/${data.id}/package`" :download="`${data.package}-${data.version}.zip`"
            >Take the package out</a
          >
        </p>
      </section>
      <p v-if="data.versions.length > 1">
        Other versions:
        <template v-for="one in data.versions" :key="one.id">
          <router-link v-if="one.id !== data.id" :to="`/workshop/releases/${one.id}`">{{
            one.version
          }}</router-link>{{ ' ' }}
        </template>
      </p>
      <p v-if="data.may_withdraw">
        <el-button v-if="data.withdrawn_at" :disabled="back.busy.value" @click="back.go()"
          >Bring it back</el-button
        >
        <el-button v-else link type="danger" @click="withdrawing = true">Withdraw it</el-button>
      </p>
      <Problem :error="back.error.value" />
      <MoveRelease v-if="moving" :release="data" @leave="moving = false" />
      <Retire
        v-if="withdrawing"
        subject="packages"
        verb="Withdraw"
        reason="Why is it withdrawn?"
        :number="id"
        :name="`${data.package} ${data.version}`"
        :look="() => ask(api.GET('/api/v1/releases/{number}/withdrawing', path))"
        :act="(why) => ask(api.POST('/api/v1/releases/{number}/withdraw', { ...path, body: { why } }))"
        @leave="withdrawing = false"
      />
      <History subject="release" :number="data.id" about="packages" />
    </div>
  </Loaded>
</template>

<style scoped>
.digest {
  overflow-wrap: anywhere;
}
</style>
