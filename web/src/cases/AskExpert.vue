<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import PersonField from '@/shared/PersonField.vue'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import { useDraft } from '@/shared/unsaved'
import DraftNote from '@/shared/DraftNote.vue'

/** The sizing sent to those who know: a link that shows just this sheet, and what came back from whom. */
const props = defineProps<{ idea: Schemas['IdeaWhole']; sizing: Schemas['Sizing'] }>()
const asking = ref(false)
const person = ref<number | null>(null)
const words = ref('')
const wanted = ref<string[]>([])
const missing = computed(() => props.sizing.results.missing.map((one) => one.field))
const may = computed(() => props.idea.may.size && props.idea.stage === 'screened')
const path = computed(() => ({ params: { path: { number: props.idea.id } } }))
const send = useAction(async () => {
  const body = { person: person.value ?? 0, words: words.value, fields: wanted.value }
  await ask(api.POST('/api/v1/ideas/{number}/sizing/requests', { ...path.value, body }))
  unsent.done()
  asking.value = false
  person.value = null
  words.value = ''
})
const back = useAction((request: number) =>
  ask(
    api.DELETE('/api/v1/ideas/{number}/sizing/requests/{request}', {
      params: { path: { number: props.idea.id, request } },
    }),
  ),
)
const again = useAction((request: number) =>
  ask(
    api.POST('/api/v1/ideas/{number}/sizing/requests/{request}/again', {
      params: { path: { number: props.idea.id, request } },
    }),
  ),
)
const over = (one: Schemas['ExpertAsked']): boolean =>
  one.state !== 'open' || !one.ends_at || Date.parse(one.ends_at) < Date.now()
const unsent = useDraft(
  'What you ask an expert',
  () => `expert-${props.idea.id}`,
  { person, words, wanted },
  { open: asking },
)
</script>

<template>
  <section v-if="may || sizing.asked.length" class="stack tight">
    <div class="spread">
      <h2>Asked of those who know</h2>
      <el-button v-if="may && !asking" @click="asking = true">Send this sheet to an expert</el-button>
    </div>
    <p v-if="!sizing.asked.length && !asking" class="quiet">
      An expert gets a link by mail that shows just this sheet, without signing in; each answer stands here
      under their name.
    </p>
    <form v-if="asking" class="note stack tight" @submit.prevent="send.go()">
      <DraftNote :draft="unsent" />
      <div class="row top">
        <Field v-slot="{ id }" label="Who knows?" :fault="faultOf(send.error.value, 'person')">
          <PersonField :id="id" v-model="person" label="Who knows?" />
        </Field>
        <Field v-slot="{ id }" label="A word to them" help="Stands in the mail and above the sheet">
          <el-input :id="id" v-model="words" :rows="3" maxlength="1000" type="textarea" />
        </Field>
      </div>
      <fieldset>
        <legend>Which facts?</legend>
        <p class="row">
          <el-button link type="primary" @click="wanted = []">All</el-button>
          <el-button v-if="missing.length" link type="primary" @click="wanted = [...missing]">
            Those that are missing
          </el-button>
          <span class="quiet">{{ wanted.length ? `${wanted.length} chosen` : 'all are asked for' }}</span>
        </p>
        <el-checkbox-group v-model="wanted" class="choices">
          <el-checkbox v-for="one in sizing.fields" :key="one.field" :value="one.field">{{
            one.label
          }}</el-checkbox>
        </el-checkbox-group>
      </fieldset>
      <p class="row">
        <el-button :disabled="!person || send.busy.value" type="primary" native-type="submit"
          >Send the link</el-button
        >
        <el-button @click="asking = false">Cancel</el-button>
        <span v-if="!person" class="quiet">Choose a person first.</span>
      </p>
      <Problem :error="send.error.value" :fields="['person']" />
    </form>
    <table v-if="sizing.asked.length" class="ledger">
      <thead>
        <tr>
          <th>Asked</th>
          <th>State</th>
          <th>Came back</th>
          <th></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in sizing.asked" :key="one.id">
          <td>
            {{ one.person }}
            <div class="quiet">
              by {{ one.asker }}, <When :at="one.asked_at" day />:
              {{ one.labels.join(', ') || 'the whole sheet' }}
            </div>
          </td>
          <td>
            {{ one.state
            }}<template v-if="one.state === 'open' && one.ends_at"
              >, until <When :at="one.ends_at" day
            /></template>
            <template v-else-if="one.ended_at">, <When :at="one.ended_at" day /></template>
          </td>
          <td>
            <div v-for="fact in one.answered" :key="fact.field">
              {{ fact.label }} <span class="quiet"><When :at="fact.at" /></span>
            </div>
            <div v-if="one.remark">“{{ one.remark }}”</div>
            <span v-if="!one.answered.length && !one.remark" class="quiet">nothing yet</span>
          </td>
          <td class="num">
            <el-button v-if="may && !over(one)" link type="primary" @click="back.go(one.id)">
              Take it back
            </el-button>
            <el-button
              v-else-if="may"
              link
              type="primary"
              :aria-label="`Open it again for ${one.person}`"
              :disabled="again.busy.value"
              @click="again.go(one.id)"
            >
              Open it again
            </el-button>
          </td>
        </tr>
      </tbody>
    </table>
    <Problem :error="back.error.value ?? again.error.value" />
  </section>
</template>

<style scoped>
.choices {
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(190px, 1fr));
  gap: 2px 16px;
}
</style>
