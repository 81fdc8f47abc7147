<script setup lang="ts">
import { api, ask, type Schemas } from '@/api/client'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormSheet from '@/shared/FormSheet.vue'
import Suggest from '@/shared/Suggest.vue'
import { useEdit } from '@/shared/useEdit'
import Choice from '@/shared/Choice.vue'

/** What one is called, how times and numbers are written for one, and what comes by mail. */
const props = defineProps<{ profile: Schemas['Profile'] }>()
const edit = useEdit(
  () => ({
    name: props.profile.name,
    zone: props.profile.zone,
    locale: props.profile.locale,
    mail: Object.fromEntries(props.profile.mail.map((one) => [one.kind, one.how])) as Record<string, string>,
  }),
  (body, version) =>
    ask(api.PUT('/api/v1/profile', { params: { header: { 'if-match': `"${version}"` } }, body })),
  { what: 'Your profile', place: () => 'profile', version: () => props.profile.version },
)
const { fields, save, ready } = edit
const MAILS = [
  { value: 'at once', words: 'at once' },
  { value: 'daily', words: 'once a day' },
  { value: 'none', words: 'never' },
]
const zones = Intl.supportedValuesOf('timeZone')
</script>

<template>
  <FormSheet
    v-if="ready"
    :edit="edit"
    action="Keep the profile"
    says="Kept."
    :fields="['name', 'zone', 'locale']"
  >
    <div class="row top">
      <Field v-slot="{ id }" label="Name" :fault="faultOf(save.error.value, 'name')"
        ><el-input :id="id" v-model="fields.name" style="--chars: 26" autocomplete="name"
      /></Field>
      <Field
        v-slot="{ id }"
        label="Time zone"
        help="times are shown in it"
        :fault="faultOf(save.error.value, 'zone')"
        ><Suggest :id="id" v-model="fields.zone" :known="zones" :chars="24"
      /></Field>
      <Field v-slot="{ id }" label="Numbers and dates as" :fault="faultOf(save.error.value, 'locale')"
        ><Choice :id="id" v-model="fields.locale" :options="profile.locales"
      /></Field>
    </div>
    <h3>By mail</h3>
    <p v-for="one in profile.mail" :key="one.kind" class="row">
      <Choice v-model="fields.mail[one.kind]!" :options="MAILS" :label="`By mail ${one.words}`" />
      <span>{{ one.words }}</span>
    </p>
  </FormSheet>
</template>
