<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { useRouter } from 'vue-router'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import OpenPage from './OpenPage.vue'
import Suggest from '@/shared/Suggest.vue'

/** A fresh installation: the first person comes in by the code that was printed, and is the lead. */
const router = useRouter()
const entrance = useQuery({ queryKey: ['entrance'], queryFn: () => ask(api.GET('/api/v1/entrance')) })
const code = ref('')
const name = ref('')
const email = ref('')
const password = ref('')
const company = ref('')
const currency = ref('EUR')
const zone = ref(Intl.DateTimeFormat().resolvedOptions().timeZone)
const zones = Intl.supportedValuesOf('timeZone')
const FIELDS = ['code', 'name', 'email', 'password', 'company', 'currency', 'zone']
const begin = useAction(async () => {
  await ask(
    api.POST('/api/v1/first', {
      body: {
        code: code.value,
        name: name.value,
        email: email.value,
        password: password.value,
        company: company.value,
        currency: currency.value.toUpperCase(),
        zone: zone.value,
      },
    }),
  )
  await ask(api.POST('/api/v1/session', { body: { email: email.value, password: password.value } }))
  await router.replace('/')
}, [])
</script>

<template>
  <OpenPage>
    <Loaded :pending="entrance.isPending.value" :error="entrance.error.value">
      <p v-if="!entrance.data.value?.first_run" class="note">
        Somebody is here already. <router-link to="/sign-in">Sign in</router-link>, or ask for an invitation.
      </p>
      <template v-else>
        <div>
          <h1>Begin here</h1>
          <p class="quiet">Nobody is here yet. You will be the lead, who asks the others in.</p>
        </div>
        <form class="stack tight" @submit.prevent="begin.go()">
          <Field
            v-slot="{ id }"
            label="Code"
            help="it was printed where Tallyman was started"
            :fault="faultOf(begin.error.value, 'code')"
            ><el-input :id="id" v-model="code" autocomplete="off" required autofocus
          /></Field>
          <Field v-slot="{ id }" label="Your name" :fault="faultOf(begin.error.value, 'name')"
            ><el-input :id="id" v-model="name" autocomplete="name" required
          /></Field>
          <Field v-slot="{ id }" label="Your mail address" :fault="faultOf(begin.error.value, 'email')"
            ><el-input :id="id" v-model="email" type="email" autocomplete="username" required
          /></Field>
          <Field
            v-slot="{ id }"
            label="A password"
            help="at least 12 characters; a few words are best"
            :fault="faultOf(begin.error.value, 'password')"
            ><el-input :id="id" v-model="password" type="password" autocomplete="new-password" required
          /></Field>
          <Field v-slot="{ id }" label="Your company" :fault="faultOf(begin.error.value, 'company')"
            ><el-input :id="id" v-model="company" autocomplete="organization" required
          /></Field>
          <div class="two">
            <Field
              v-slot="{ id }"
              label="Currency"
              help="all sums are in it"
              :fault="faultOf(begin.error.value, 'currency')"
              ><el-input :id="id" v-model="currency" maxlength="3" required
            /></Field>
            <Field
              v-slot="{ id }"
              label="Time zone"
              help="days and months end in it"
              :fault="faultOf(begin.error.value, 'zone')"
              ><Suggest :id="id" v-model="zone" :known="zones" :chars="22" required
            /></Field>
          </div>
          <Problem :error="begin.error.value" :fields="FIELDS" />
          <p><el-button :disabled="begin.busy.value" type="primary" native-type="submit">Begin</el-button></p>
        </form>
      </template>
    </Loaded>
  </OpenPage>
</template>
