<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { ref } from 'vue'
import { api, ask } from '@/api/client'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import FormEnd from '@/shared/FormEnd.vue'
import Loaded from '@/shared/Loaded.vue'
import OpenPage from './OpenPage.vue'
import SelfFields from './SelfFields.vue'
import { useComingIn } from './self'

/** A fresh installation: the first person comes in by the code that was printed, and is the lead. */
const entrance = useQuery({ queryKey: ['entrance'], queryFn: () => ask(api.GET('/api/v1/entrance')) })
const code = ref('')
const email = ref('')
const company = ref('')
const currency = ref('EUR')
const FIELDS = ['code', 'name', 'email', 'password', 'company', 'currency', 'zone']
const { self, comeIn } = useComingIn(async (given) => {
  await ask(
    api.POST('/api/v1/first', {
      body: {
        ...given,
        code: code.value,
        email: email.value,
        company: company.value,
        currency: currency.value.toUpperCase(),
      },
    }),
  )
  return email.value
})
const fault = (name: string) => faultOf(comeIn.error.value, name)
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
        <form class="stack tight" @submit.prevent="comeIn.go()">
          <Field
            v-slot="{ id }"
            label="Code"
            help="it was printed where Tallyman was started"
            :fault="fault('code')"
            ><el-input :id="id" v-model="code" autocomplete="off" required autofocus
          /></Field>
          <SelfFields v-model="self" :error="comeIn.error.value" zone-help="days and months end in it">
            <Field v-slot="{ id }" label="Your mail address" :fault="fault('email')"
              ><el-input :id="id" v-model="email" type="email" autocomplete="username" required
            /></Field>
          </SelfFields>
          <div class="two">
            <Field v-slot="{ id }" label="Your company" :fault="fault('company')"
              ><el-input :id="id" v-model="company" autocomplete="organization" required
            /></Field>
            <Field v-slot="{ id }" label="Currency" help="all sums are in it" :fault="fault('currency')"
              ><el-input :id="id" v-model="currency" maxlength="3" required
            /></Field>
          </div>
          <FormEnd action="Begin" :busy="comeIn.busy.value" :error="comeIn.error.value" :fields="FIELDS" />
        </form>
      </template>
    </Loaded>
  </OpenPage>
</template>
