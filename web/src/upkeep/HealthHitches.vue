<script setup lang="ts">
import { ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import { number } from '@/shared/format'
import Problem from '@/shared/Problem.vue'
import { useDraft } from '@/shared/unsaved'
import When from '@/shared/When.vue'
import { pageOf } from './link'

/** What failed: tried again now, or set aside for good with the reason. */
defineProps<{ health: Schemas['Health'] }>()
const again = useAction((id: number) =>
  ask(api.POST('/api/v1/health/hitches/{number}/again', { params: { path: { number: id } } })),
)
const asideOf = ref<number | null>(null)
const why = ref('')
const aside = useAction(async (id: number) => {
  const params = { path: { number: id } }
  await ask(api.POST('/api/v1/health/hitches/{number}/aside', { params, body: { why: why.value } }))
  asideOf.value = null
  why.value = ''
})
useDraft('Why it is set aside', () => 'health-aside', { why }, { open: asideOf })
</script>

<template>
  <section class="stack tight">
    <h2>What failed</h2>
    <table class="ledger">
      <thead>
        <tr>
          <th>What</th>
          <th>Why it fails</th>
          <th class="num">Tries</th>
          <th class="num">Next try</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <template v-for="row in health.hitches" :key="row.id">
          <tr>
            <td>
              {{ row.words }}
              <div v-if="row.about" class="quiet wrap">{{ row.about }}</div>
              <div v-if="row.object">
                <router-link v-if="pageOf(row.object)" :to="pageOf(row.object)">{{ row.object }}</router-link>
                <template v-else>{{ row.object }}</template>
              </div>
              <div v-if="row.behind" class="care">{{ row.behind }} more wait behind it</div>
            </td>
            <td class="wrap">{{ row.fault }}</td>
            <td class="num">{{ row.tries }}</td>
            <td class="num">
              <b v-if="row.stuck" class="bad">stuck: not tried by itself any more</b>
              <When v-else-if="row.due_at" :at="row.due_at" near />
            </td>
            <td v-if="health.may_mend" class="num">
              <el-button link type="primary" @click="again.go(row.id)">Try now</el-button><br />
              <el-button link type="danger" @click="asideOf = row.id">Set aside</el-button>
            </td>
          </tr>
          <tr v-if="asideOf === row.id">
            <td colspan="5">
              <form class="row" @submit.prevent="aside.go(row.id)">
                <el-input
                  v-model="why"
                  style="--chars: 50"
                  aria-label="Why it is set aside"
                  placeholder="Why it will never be done, for the record"
                />
                <el-button :disabled="aside.busy.value" type="primary" native-type="submit"
                  >Set it aside for good</el-button
                >
                <el-button @click="asideOf = null">Cancel</el-button>
              </form>
              <Problem :error="aside.error.value" />
            </td>
          </tr>
        </template>
      </tbody>
    </table>
    <p v-if="health.hitches_more" class="quiet">
      {{ number(health.hitches_more) }} more stand behind these; they come up as these are mended.
    </p>
    <Problem :error="again.error.value" />
  </section>
</template>

<style scoped>
.wrap {
  overflow-wrap: anywhere;
  white-space: normal;
}
</style>
