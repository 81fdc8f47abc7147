<script setup lang="ts">
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { useMe } from '@/shared/session'
import { useAreas } from '@/shared/areas'
import { useEdit } from '@/shared/useEdit'
import { useUnsaved } from '@/shared/unsaved'
import FormSheet from '@/shared/FormSheet.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import DayField from '@/shared/DayField.vue'
import Choice from '@/shared/Choice.vue'
import AreaField from '@/shared/AreaField.vue'
import SecretMove from './SecretMove.vue'

/** Puts a secret in, or another value for one; the value cannot be read afterwards. */
const props = defineProps<{ kinds?: Schemas['KindOut'][]; secret?: Schemas['SecretRow'] }>()
const emit = defineEmits<{ done: []; leave: [] }>()
const { everywhere } = useMe()
// What is no secret stands there to be changed; a secret's value is never shown.
const known = props.secret?.value ?? ''
const value = ref(known)
const edit = useEdit(
  () => ({
    name: '',
    kind: props.kinds?.[0]?.kind ?? '',
    area: props.secret?.area_id ?? null,
    about: props.secret?.about ?? '',
    expires: props.secret?.expires_on ?? '',
  }),
  ({ name, kind, area, about, expires }, version) => {
    const rest = { about, area, expires_on: expires || null }
    if (!props.secret)
      return ask(
        api.POST('/api/v1/secrets', {
          body: { name, kind, value: value.value, ...rest },
        }),
      )
    const params = { path: { number: props.secret.id }, header: { 'if-match': `"${version}"` } }
    return ask(
      api.PUT('/api/v1/secrets/{number}', {
        params,
        body: { value: value.value === known ? null : value.value || null, ...rest },
      }),
    )
  },
  {
    what: 'The secret',
    place: () => `secret-${props.secret?.id ?? 0}`,
    version: () => props.secret?.version,
    after: () => ((value.value = ''), emit('done')),
  },
)
const { fields, save } = edit
const named = computed(() => (props.secret?.kind ?? fields.value.kind) === 'named')
const help = computed(() => {
  if (named.value) return 'whoever sees this list reads it'
  return props.secret ? 'left empty, the one there is stays' : 'nobody can read it afterwards'
})
const { areas } = useAreas()
const say = (path: string, value: unknown): string | undefined =>
  path === 'area' ? (areas.value.find((one) => one.id === value)?.name ?? 'the whole company') : undefined
// The value itself is never kept in the browser.
useUnsaved('The value of the secret', () => value.value !== known)
</script>

<template>
  <FormSheet
    :edit="edit"
    :action="secret ? 'Keep it' : 'Put it in'"
    leave="Cancel"
    :fields="['name', 'kind', 'area', 'value', 'expires_on', 'about']"
    :say="say"
    :names="{ about: 'What it is for', expires: 'Good until', area: 'Usable in' }"
    :wait="(secret && !named) || value ? '' : 'Give its value first.'"
    @leave="emit('leave')"
  >
    <div class="row top">
      <Field
        v-if="!secret"
        v-slot="{ id }"
        label="Name"
        help="as package.toml names it"
        :fault="faultOf(save.error.value, 'name')"
        ><el-input :id="id" v-model="fields.name" style="--chars: 24" placeholder="billing-login"
      /></Field>
      <Field v-if="!secret" v-slot="{ id }" label="What it is" :fault="faultOf(save.error.value, 'kind')"
        ><Choice
          :id="id"
          v-model="fields.kind"
          :options="(kinds ?? []).map((one) => ({ value: one.kind, words: one.words }))"
      /></Field>
      <Field v-slot="{ id }" label="Usable in" :fault="faultOf(save.error.value, 'area')"
        ><AreaField
          :id="id"
          v-model="fields.area"
          :nothing="everywhere('secret.make') ? 'the whole company' : undefined"
      /></Field>
    </div>
    <SecretMove v-if="secret && fields.area !== secret.area_id" :secret="secret" :area="fields.area" />
    <div class="row top">
      <Field
        v-slot="{ id }"
        :label="secret && !named ? 'Another value' : 'Value'"
        :help="help"
        :fault="faultOf(save.error.value, 'value')"
        ><el-input
          :id="id"
          v-model="value"
          :type="named ? 'text' : 'password'"
          style="--chars: 28"
          autocomplete="new-password"
      /></Field>
      <Field
        v-slot="{ id }"
        label="Good until"
        help="may stay open"
        :fault="faultOf(save.error.value, 'expires_on')"
        ><DayField :id="id" v-model="fields.expires"
      /></Field>
      <Field v-slot="{ id }" label="What it is for" :fault="faultOf(save.error.value, 'about')"
        ><el-input :id="id" v-model="fields.about" style="--chars: 32"
      /></Field>
    </div>
  </FormSheet>
</template>
