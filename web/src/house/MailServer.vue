<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Problem from '@/shared/Problem.vue'
import WholeField from '@/shared/WholeField.vue'

/** The mail server, with a test that sends a mail by what was typed. */
const { me } = useMe()
const query = useQuery({ queryKey: ['house', 'mail'], queryFn: () => ask(api.GET('/api/v1/house/mail')) })
const open = ref(false)
const host = ref('')
const port = ref<number | null>(null)
const security = ref('')
const user = ref('')
const sender = ref('')
const password = ref('')
const seen = ref<number | null>(null)
watch(
  query.data,
  (now) => {
    if (!now || seen.value !== null) return
    host.value = now.host
    port.value = now.port
    security.value = now.security
    user.value = now.user
    sender.value = now.sender
    seen.value = now.version
  },
  { immediate: true },
)
const FIELDS = ['host', 'port', 'security', 'user', 'sender', 'password']
const body = () => ({
  host: host.value,
  port: Number(port.value),
  security: security.value,
  user: user.value,
  sender: sender.value,
  password: password.value,
})
const said = ref('')
const test = useAction(async () => {
  said.value = ''
  const found = await ask(api.POST('/api/v1/house/mail/test', { body: body() }))
  said.value = `The server answered: ${found.answer}. Look into your mail, ${me.value?.email ?? ''}.`
}, [])
const save = useAction(async () => {
  said.value = ''
  await ask(
    api.PUT('/api/v1/house/mail', {
      params: { header: { 'if-match': `"${seen.value ?? 0}"` } },
      body: body(),
    }),
  )
  password.value = ''
  seen.value = (await query.refetch()).data?.version ?? seen.value
  said.value = 'Kept. Mails leave by this server from now on.'
})
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
        >{{ open ? 'Leave it' : 'Change the mail server' }}
      </el-button>
    </div>
    <form v-if="open" class="note stack tight" autocomplete="off" @submit.prevent="save.go()">
      <div class="row top">
        <Field v-slot="{ id }" label="Mail server" :fault="fault('host')"
          ><el-input :id="id" v-model="host" style="--chars: 28"
        /></Field>
        <Field v-slot="{ id }" label="Port" help="mostly 587 or 465" :fault="fault('port')"
          ><WholeField :id="id" v-model="port" :min="1" :max="65535"
        /></Field>
        <Field v-slot="{ id }" label="Encryption" :fault="fault('security')"
          ><el-select :id="id" v-model="security"
            ><el-option
              v-for="one in query.data.value.securities"
              :key="one.value"
              :value="one.value"
              :label="one.words" /></el-select
        ></Field>
      </div>
      <div class="row top">
        <Field v-slot="{ id }" label="Mails come from" :fault="fault('sender')"
          ><el-input :id="id" v-model="sender" type="email" style="--chars: 28"
        /></Field>
        <Field v-slot="{ id }" label="Sign-in name" help="empty if it wants none" :fault="fault('user')"
          ><el-input :id="id" v-model="user" style="--chars: 20" autocomplete="off"
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
      <Problem :error="save.error.value ?? test.error.value" :fields="FIELDS" />
      <p class="row">
        <el-button :disabled="save.busy.value" type="primary" native-type="submit">Keep it</el-button>
        <el-button :disabled="test.busy.value" @click="test.go()">Send me a test mail</el-button>
        <span v-if="said" role="status" class="quiet">{{ said }}</span>
      </p>
    </form>
  </section>
</template>

<style scoped>
.top {
  align-items: flex-start;
}
</style>
