<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useAction } from '@/shared/action'
import Confirm from '@/shared/Confirm.vue'
import { several } from '@/shared/format'
import Fold from '@/shared/Fold.vue'
import { later } from '@/shared/later'
import Problem from '@/shared/Problem.vue'
import { useUnsaved } from '@/shared/unsaved'
import When from '@/shared/When.vue'
import AddressCalls from './AddressCalls.vue'
import AddressExamples from './AddressExamples.vue'

const AddressForm = later(() => import('./AddressForm.vue'))

/** How other programs start a routine: its address and token, ready examples, and what was called. */
const props = defineProps<{
  routine: Pick<Schemas['Routine'], 'id' | 'name' | 'inputs' | 'input_schema'>
  change: boolean
}>()
const path = computed(() => ({ params: { path: { number: props.routine.id } } }))
const query = useQuery({
  queryKey: ['routines', 'address', () => props.routine.id],
  queryFn: () => ask(api.GET('/api/v1/routines/{number}/address', path.value)),
})
const address = computed(() => query.data.value)
const url = computed(() => `${location.origin}/api/v1/called/${props.routine.id}`)
// Shown this once: it stands in no answer again, so leaving asks whether it was kept.
const token = ref('')
useUnsaved('The token, which is shown only now', () => !!token.value)
const form = ref(false)
const asked = ref<'renew' | 'take' | null>(null)
const atOnce = ref(false)
const go = useAction(async () => {
  if (asked.value === 'take') {
    await ask(api.DELETE('/api/v1/routines/{number}/address', path.value))
    token.value = ''
  } else {
    const body = { at_once: atOnce.value }
    const made = await ask(api.POST('/api/v1/routines/{number}/address/renew', { ...path.value, body }))
    token.value = made.token
  }
  asked.value = null
})
function given(now: string) {
  form.value = false
  if (now) token.value = now
}
</script>

<template>
  <section v-if="query.isSuccess.value && (address || change)" class="stack tight">
    <h2>Started by other programs</h2>
    <template v-if="address">
      <p class="address">
        <code>POST {{ url }}</code>
      </p>
      <p class="quiet">
        With the token that ends in <b>{{ address.token_end }}</b>, from
        {{ address.networks.length ? address.networks.join(', ') : 'anywhere' }}, up to
        {{ several(address.a_minute, 'time', 'times') }} a minute. Given by {{ address.person }},
        <When :at="address.made_at" />.<template v-if="address.old_until">
          The token of before works until <When :at="address.old_until" />.</template
        >
      </p>
      <div v-if="token" class="note stack tight" role="status">
        <p>
          <b>The token.</b> It is shown this once; keep it where the other program reads it. The examples hold
          it as well.
        </p>
        <p class="address">
          <code>{{ token }}</code>
        </p>
        <p><el-button @click="token = ''">I have kept it</el-button></p>
      </div>
      <p v-if="change && !form" class="row">
        <el-button @click="form = true">Change it</el-button>
        <el-button @click="asked = 'renew'">Renew its token</el-button>
        <el-button link type="danger" @click="asked = 'take'">Take the address away</el-button>
      </p>
    </template>
    <p v-else-if="!form" class="quiet">
      None can. With an address of its own and a token, another program starts it, waits for its outcome or is
      told of it.
    </p>
    <AddressForm v-if="form" :routine="routine.id" :address="address ?? null" @leave="given" />
    <p v-else-if="change && !address"><el-button @click="form = true">Give it an address</el-button></p>
    <Fold v-if="address" :key="token" words="Examples for the shell and Python" :open="!!token">
      <AddressExamples :routine="routine" :url="url" :token="token" />
    </Fold>
    <Fold v-if="address" words="What was called"><AddressCalls :routine="routine.id" /></Fold>
    <Confirm
      :model-value="asked !== null"
      :title="asked === 'take' ? 'Take the address away' : 'Renew the token'"
      :action="asked === 'take' ? 'Take it away' : 'Renew it'"
      :busy="go.busy.value"
      @update:model-value="asked = null"
      @yes="go.go()"
    >
      <p v-if="asked === 'take'">
        Programs that start {{ routine.name }} by its address are refused from now on. What they started
        stays, and so does what they called.
      </p>
      <template v-else>
        <p>{{ routine.name }} gets another token, which is shown once.</p>
        <el-checkbox v-model="atOnce"
          >The token of before ends at once (else it works for a day more)</el-checkbox
        >
      </template>
      <Problem :error="go.error.value" />
    </Confirm>
  </section>
</template>

<style scoped>
.address {
  overflow-wrap: anywhere;
}
</style>
