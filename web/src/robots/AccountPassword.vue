<script setup lang="ts">
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import { useUnsaved } from '@/shared/unsaved'

/** The password of a run-as account: kept where nobody can read it, and tried by the host. */
const props = defineProps<{ host: { id: number; name: string }; account: string; kept: boolean }>()
const emit = defineEmits<{ leave: [] }>()
const value = ref('')
const path = () => ({ params: { path: { number: props.host.id, account: props.account } } })
const put = useAction(async () => {
  const body = { value: value.value }
  await ask(api.PUT('/api/v1/hosts/{number}/accounts/{account}/password', { ...path(), body }))
  value.value = ''
  emit('leave')
})
const again = useAction(async () => {
  await ask(api.POST('/api/v1/hosts/{number}/accounts/{account}/try', path()))
  emit('leave')
})
useUnsaved('The password', () => value.value !== '')
</script>

<template>
  <form class="note stack tight" @submit.prevent="put.go()">
    <h3>Password of {{ account }} on {{ host.name }}</h3>
    <Field
      v-slot="{ id }"
      label="Password"
      help="sealed at once and shown to nobody; the host signs in with it to prove it"
      :fault="faultOf(put.error.value, 'value')"
    >
      <el-input
        :id="id"
        v-model="value"
        type="password"
        autocomplete="new-password"
        style="--chars: 28"
        autofocus
      />
    </Field>
    <FormEnd
      action="Keep it and try it"
      leave="Cancel"
      :busy="put.busy.value"
      :error="put.error.value ?? again.error.value"
      :fields="['value']"
      :wait="value ? '' : 'Give the password.'"
      @leave="emit('leave')"
    >
      <el-button v-if="kept" :disabled="again.busy.value" @click="again.go()"
        >Try the kept one again</el-button
      >
    </FormEnd>
  </form>
</template>
