<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Confirm from '@/shared/Confirm.vue'
import { plural, several } from '@/shared/format'
import History from '@/shared/History.vue'
import Problem from '@/shared/Problem.vue'
import When from '@/shared/When.vue'
import OwnValues from './OwnValues.vue'
import SecretForm from './SecretForm.vue'

/** One secret: who used it, which routines would miss it, another value, and taking it out. */
const props = defineProps<{ secret: Schemas['SecretRow'] }>()
const query = useQuery({
  queryKey: ['safe', props.secret.id],
  queryFn: () => ask(api.GET('/api/v1/secrets/{number}', { params: { path: { number: props.secret.id } } })),
})
const asked = computed(() => (query.data.value?.routines.length ?? 0) + (query.data.value?.unseen ?? 0))
const changing = ref(false)
const asking = ref(false)
const retire = useAction(async () => {
  await ask(api.DELETE('/api/v1/secrets/{number}', { params: { path: { number: props.secret.id } } }))
  asking.value = false
})
</script>

<template>
  <div class="note stack tight">
    <SecretForm
      v-if="changing"
      :key="secret.id"
      :secret="secret"
      @done="changing = false"
      @leave="changing = false"
    />
    <template v-if="query.data.value">
      <p v-if="query.data.value.routines.length || query.data.value.unseen">
        Asked for by
        <template v-for="(one, n) in query.data.value.routines" :key="one.id"
          >{{ n ? ', ' : ''
          }}<router-link :to="`/workshop/routines/${one.id}`">{{ one.name }}</router-link></template
        ><template v-if="query.data.value.unseen">
          {{ query.data.value.routines.length ? 'and' : '' }} {{ query.data.value.unseen }} routines that you
          may not see</template
        >.
      </p>
      <OwnValues
        v-if="secret.of_people"
        :secret="secret"
        :own="query.data.value.own"
        :change="query.data.value.may_differ"
      />
      <p v-if="!query.data.value.uses.length" class="quiet">Nobody used it yet.</p>
      <table v-else class="ledger">
        <thead>
          <tr>
            <th>Used by</th>
            <th>For</th>
            <th class="num">When</th>
          </tr>
        </thead>
        <tbody>
          <tr v-for="one in query.data.value.uses" :key="one.id">
            <td>{{ one.who }}</td>
            <td>{{ one.what }}</td>
            <td class="num"><When :at="one.at" /></td>
          </tr>
        </tbody>
      </table>
    </template>
    <Problem :error="query.error.value ?? retire.error.value" />
    <p v-if="secret.of_people" class="row">
      <el-button v-if="secret.may_change && !changing" @click="changing = true">Change it</el-button>
      <el-button v-if="secret.may_retire" link type="primary" @click="asking = true">Take it out</el-button>
    </p>
    <History subject="secret" :number="secret.id" about="safe" />
    <Confirm
      v-model="asking"
      :title="`Take ${secret.name} out of the safe?`"
      action="Take it out"
      :busy="retire.busy.value"
      :off="asked > 0"
      @yes="retire.go()"
    >
      <p v-if="asked" class="note care">
        First: {{ several(asked, 'routine asks', 'routines ask') }} for it. Give
        {{ plural(asked, 'it a release that does', 'them releases that do') }} not, or retire
        {{ plural(asked, 'it', 'them') }}.
      </p>
      <p>Its value is gone at once, and nobody can bring it back. Who used it stays on record.</p>
      <Problem :error="retire.error.value" />
    </Confirm>
  </div>
</template>
