<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { api, ask } from '@/api/client'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import Problem from '@/shared/Problem.vue'
import HouseTabs from '@/shared/HouseTabs.vue'

/** Single sign-on by the company's identity provider. */
const query = useQuery({
  queryKey: ['house', 'sign-in'],
  queryFn: () => ask(api.GET('/api/v1/house/sign-in')),
})
const roles = useQuery({ queryKey: ['access', 'roles'], queryFn: () => ask(api.GET('/api/v1/access/roles')) })
const on = ref(false)
const name = ref('')
const issuer = ref('')
const client = ref('')
const claim = ref('groups')
const role = ref<number | ''>('')
const secret = ref('')
const seen = ref<number | null>(null)
watch(
  query.data,
  (now) => {
    if (!now || seen.value !== null) return
    on.value = now.on
    name.value = now.name
    issuer.value = now.issuer
    client.value = now.client_id
    claim.value = now.groups_claim
    role.value = now.role_id ?? ''
    seen.value = now.version
  },
  { immediate: true },
)
const chosen = computed(() => roles.data.value?.roles.find((one) => one.id === role.value))
const kept = ref(false)
const FIELDS = ['name', 'issuer', 'client_id', 'groups_claim', 'role', 'secret']
const save = useAction(async () => {
  kept.value = false
  const body = {
    on: on.value,
    name: name.value,
    issuer: issuer.value,
    client_id: client.value,
    groups_claim: claim.value,
    role: role.value || null,
    secret: secret.value,
  }
  await ask(
    api.PUT('/api/v1/house/sign-in', { params: { header: { 'if-match': `"${seen.value ?? 0}"` } }, body }),
  )
  secret.value = ''
  seen.value = (await query.refetch()).data?.version ?? seen.value
  kept.value = true
})
</script>

<template>
  <div class="stack">
    <div>
      <h1>House rules</h1>
      <p class="lead">Sign-in: by the company's own identity provider, beside passwords.</p>
    </div>
    <HouseTabs />
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <form v-if="query.data.value" class="stack" autocomplete="off" @submit.prevent="save.go()">
        <el-checkbox v-model="on">People can sign in by the identity provider</el-checkbox>
        <div class="row top">
          <Field
            v-slot="{ id }"
            label="What the button names"
            help="“By Merrowdale sign-in”"
            :fault="faultOf(save.error.value, 'name')"
            ><el-input :id="id" v-model="name" style="--chars: 24"
          /></Field>
          <Field
            v-slot="{ id }"
            label="Issuer"
            help="the provider's address, as it names itself"
            :fault="faultOf(save.error.value, 'issuer')"
            ><el-input :id="id" v-model="issuer" style="--chars: 42" placeholder="its address, with https"
          /></Field>
        </div>
        <div class="row top">
          <Field
            v-slot="{ id }"
            label="Client"
            help="what the provider knows Tallyman by"
            :fault="faultOf(save.error.value, 'client_id')"
            ><el-input :id="id" v-model="client" style="--chars: 24"
          /></Field>
          <Field
            v-slot="{ id }"
            label="Client's secret"
            :help="
              query.data.value.has_secret ? 'one is in the safe; left empty, it stays' : 'goes into the safe'
            "
            :fault="faultOf(save.error.value, 'secret')"
            ><el-input
              :id="id"
              v-model="secret"
              type="password"
              style="--chars: 28"
              autocomplete="new-password"
          /></Field>
        </div>
        <div class="row top">
          <Field
            v-slot="{ id }"
            label="Role of newcomers"
            help="held for the whole company from the first sign-in"
            :fault="faultOf(save.error.value, 'role')"
            ><el-select :id="id" v-model="role" :empty-values="[undefined]"
              ><el-option value="" label="none: they may hand in ideas" />
              <el-option
                v-for="one in roles.data.value?.roles"
                :key="one.id"
                :value="one.id"
                :label="one.name" /></el-select
          ></Field>
          <Field
            v-slot="{ id }"
            label="Claim with groups"
            help="its values are compared with those of our groups"
            :fault="faultOf(save.error.value, 'groups_claim')"
            ><el-input :id="id" v-model="claim" style="--chars: 20"
          /></Field>
        </div>
        <p v-if="chosen && chosen.permissions.length > 2" class="note care">
          Everybody whom the provider lets in gets this at once: {{ chosen.words.join('; ') }}.
        </p>
        <Problem :error="save.error.value" :fields="FIELDS" />
        <p class="row">
          <el-button :disabled="save.busy.value" type="primary" native-type="submit">Keep it</el-button>
          <span v-if="kept" role="status" class="quiet"
            >Kept{{ on ? '; the provider answers under this name' : '' }}.</span
          >
        </p>
      </form>
    </Loaded>
    <MarginNotes holds>
      <section v-if="query.data.value" class="stack tight">
        <h2>At the provider</h2>
        <p class="quiet">Name this address there as the one to come back to:</p>
        <p class="address">{{ query.data.value.back }}</p>
        <h2>Groups that follow claims</h2>
        <p v-for="one in query.data.value.groups" :key="one.name" class="quiet">
          {{ one.name }} follows <b>{{ one.claim }}</b>
        </p>
        <p v-if="!query.data.value.groups.length" class="quiet">
          None yet. A group gets its claim under <router-link to="/house/people">People</router-link>.
        </p>
        <p class="quiet">
          Who is known here by a proved mail address stays who they are. A sign-in this way asks for no second
          factor here: that is the provider's to ask.
        </p>
      </section>
    </MarginNotes>
  </div>
</template>

<style scoped>
.top {
  align-items: flex-start;
}
.address {
  font-family: ui-monospace, monospace;
  font-size: 12px;
  overflow-wrap: anywhere;
}
</style>
