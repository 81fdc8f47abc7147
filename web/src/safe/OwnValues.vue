<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Choice from '@/shared/Choice.vue'
import DayField from '@/shared/DayField.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import Problem from '@/shared/Problem.vue'
import { useUnsaved } from '@/shared/unsaved'
import When from '@/shared/When.vue'

/** The values that a secret has of its own for hosts and robots: put in, replaced, taken out. */
const props = defineProps<{ secret: Schemas['SecretRow']; own: Schemas['OwnShown'][]; change: boolean }>()
const named = computed(() => props.secret.kind === 'named')
const path = computed(() => ({ number: props.secret.id }))
const adding = ref(false)
const whom = ref<string | null>(null)
const value = ref('')
const until = ref<string | null>(null)
const robots = useQuery({
  queryKey: ['robots', 'all'],
  enabled: () => adding.value,
  queryFn: () => ask(api.GET('/api/v1/robots')),
})
const choices = computed(() => [
  ...(robots.data.value?.hosts ?? []).map((one) => ({ value: `host-${one.id}`, words: `host ${one.name}` })),
  ...(robots.data.value?.robots ?? []).map((one) => ({
    value: `robot-${one.id}`,
    words: `robot ${one.name}`,
  })),
])
const replaces = computed(() =>
  props.own.some((one) => whom.value === (one.host_id ? `host-${one.host_id}` : `robot-${one.robot_id}`)),
)
const put = useAction(async () => {
  const [whose, id] = whom.value!.split('-')
  const body = {
    whose: whose as 'host' | 'robot',
    id: Number(id),
    value: value.value,
    expires_on: until.value,
  }
  await ask(api.PUT('/api/v1/secrets/{number}/own', { params: { path: path.value }, body }))
  adding.value = false
  value.value = ''
  whom.value = until.value = null
})
const takeOut = useAction((own: number) =>
  ask(api.DELETE('/api/v1/secrets/{number}/own/{own}', { params: { path: { ...path.value, own } } })),
)
useUnsaved('The value', () => adding.value && value.value !== '')
const name = (one: Schemas['OwnShown']) => (one.host_id ? `host ${one.host}` : `robot ${one.robot}`)
</script>

<template>
  <section v-if="own.length || change" class="stack tight">
    <h3>Values of its own</h3>
    <p v-if="!own.length" class="quiet">Every host and robot gets the same value.</p>
    <table v-else class="ledger" aria-label="Values of its own">
      <tbody>
        <tr v-for="one in own" :key="one.id">
          <td>
            {{ name(one) }}
            <div v-if="one.value !== null" class="named">{{ one.value }}</div>
          </td>
          <td class="quiet">
            put in <When :at="one.changed_at" /><template v-if="one.expires_on"
              >, good until <When :at="one.expires_on" /></template
            >, {{ one.used_at ? 'last used' : 'never used' }} <When v-if="one.used_at" :at="one.used_at" />
          </td>
          <td class="num">
            <el-button
              v-if="change"
              link
              type="primary"
              :disabled="takeOut.busy.value"
              :aria-label="`Take it out: the value for the ${name(one)}`"
              @click="takeOut.go(one.id)"
              >Take it out</el-button
            >
          </td>
        </tr>
      </tbody>
    </table>
    <form v-if="adding" class="stack tight" @submit.prevent="put.go()">
      <div class="row top">
        <Field v-slot="{ id }" label="For" :fault="faultOf(put.error.value, 'host', 'robot')">
          <Choice :id="id" v-model="whom" :options="choices" placeholder="a host or robot" />
        </Field>
        <Field v-slot="{ id }" label="Value for it alone" :fault="faultOf(put.error.value, 'value')">
          <el-input
            :id="id"
            v-model="value"
            :type="named ? 'text' : 'password'"
            autocomplete="off"
            style="--chars: 24"
          />
        </Field>
        <Field v-slot="{ id }" label="Good until" help="empty: no end">
          <DayField :id="id" v-model="until" />
        </Field>
      </div>
      <FormEnd
        :action="replaces ? 'Replace it' : 'Put it in'"
        leave="Cancel"
        :busy="put.busy.value"
        :error="put.error.value"
        :fields="['host', 'robot', 'value']"
        :wait="whom && value ? '' : 'Choose for which, and type its value.'"
        @leave="adding = false"
      />
    </form>
    <p v-else-if="change">
      <el-button @click="adding = true">Add a value for one host or robot</el-button>
    </p>
    <Problem :error="takeOut.error.value" />
  </section>
</template>
