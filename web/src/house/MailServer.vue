<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import { useEdit } from '@/shared/useEdit'
import { useUnsaved } from '@/shared/unsaved'
import FormSheet from '@/shared/FormSheet.vue'
import Problem from '@/shared/Problem.vue'
import WholeField from '@/shared/WholeField.vue'
import Choice from '@/shared/Choice.vue'

/** The mail server, with a test that sends a mail by what was typed. */
const { me } = useMe()
const query = useQuery({ queryKey: ['house', 'mail'], queryFn: () => ask(api.GET('/api/v1/house/mail')) })
const open = ref(false)
const password = ref('')
function given() {
  const now = query.data.value
  return now && { host: now.host, port: now.port, security: now.security, user: now.user, sender: now.sender }
}
const FIELDS = ['host', 'port', 'security', 'user', 'sender', 'password']

const bodyOf = (now: NonNullable<ReturnType<typeof given>>) => ({
  ...now,
  port: Number(now.port),
  password: password.value,
})
const edit = useEdit(
  given,
  (now, version) =>
    ask(
      api.PUT('/api/v1/house/mail', {
        params: { header: { 'if-match': `"${version}"` } },
        body: bodyOf(now),
      }),
    ),
  {
    what: 'The mail server',
    place: () => 'mail-server',
    version: () => query.data.value?.version,
    after: () => (password.value = ''),
  },
)
const { fields, save, ready } = edit
useUnsaved('The password of the mail server', () => password.value !== '')
const said = ref('')
const test = useAction(async () => {
  said.value = ''
  const found = await ask(api.POST('/api/v1/house/mail/test', { body: bodyOf(fields.value) }))
  said.value = `The server answered: ${found.answer}. Look into your mail, ${me.value?.email ?? ''}.`
}, [])
const fault = (field: string) => faultOf(save.error.value, field) ?? faultOf(test.error.value, field)
</script>

<template>
  <section v-if="query.data.value" class="stack tight">
    <div class="spread">
      <p>
        Mails leave by <b>{{ query.data.value.host }}</b>, port {{ query.data.value.port }}, from
        {{ query.data.value.sender }}.
      </p>
      <el-button v-if="query.data.value.may_change" @click="open = !open"
        >{{ open ? 'Cancel' : 'Change the mail server' }}
      </el-button>
    </div>
    <FormSheet
      v-if="open && ready"
      :edit="edit"
      action="Keep it"
      :fields="FIELDS"
      :names="{
        host: 'Mail server',
        security: 'Encryption',
        user: 'Sign-in name',
        sender: 'Mails come from',
      }"
      says="Kept. Mails leave by this server from now on."
    >
      <div class="row top">
        <Field v-slot="{ id }" label="Mail server" :fault="fault('host')"
          ><el-input :id="id" v-model="fields.host" style="--chars: 28"
        /></Field>
        <Field v-slot="{ id }" label="Port" help="mostly 587 or 465" :fault="fault('port')"
          ><WholeField :id="id" v-model="fields.port" :min="1" :max="65535"
        /></Field>
        <Field v-slot="{ id }" label="Encryption" :fault="fault('security')"
          ><Choice :id="id" v-model="fields.security" :options="query.data.value.securities"
        /></Field>
      </div>
      <div class="row top">
        <Field v-slot="{ id }" label="Mails come from" :fault="fault('sender')"
          ><el-input :id="id" v-model="fields.sender" type="email" style="--chars: 28"
        /></Field>
        <Field v-slot="{ id }" label="Sign-in name" help="empty if it wants none" :fault="fault('user')"
          ><el-input :id="id" v-model="fields.user" style="--chars: 20" autocomplete="off"
        /></Field>
        <Field
          v-slot="{ id }"
          label="Password"
          :help="
            query.data.value.has_password ? 'one is in the safe; left empty, it stays' : 'goes into the safe'
          "
          :fault="fault('password')"
          ><el-input :id="id" v-model="password" type="password" autocomplete="new-password"
        /></Field>
      </div>
      <Problem :error="test.error.value" :fields="FIELDS" />
      <template #more>
        <el-button :disabled="test.busy.value" @click="test.go()">Send me a test mail</el-button>
        <span v-if="said" role="status" class="quiet">{{ said }}</span>
      </template>
    </FormSheet>
  </section>
</template>
