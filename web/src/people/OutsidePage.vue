<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref } from 'vue'
import { api, ask } from '@/api/client'
import { useEdit } from '@/shared/useEdit'
import { useUnsaved } from '@/shared/unsaved'
import FormSheet from '@/shared/FormSheet.vue'
import Choice from '@/shared/Choice.vue'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Loaded from '@/shared/Loaded.vue'
import MarginNotes from '@/shared/MarginNotes.vue'
import HouseTabs from '@/shared/HouseTabs.vue'

/** Single sign-on by the company's identity provider. */
const query = useQuery({
  queryKey: ['house', 'sign-in'],
  queryFn: () => ask(api.GET('/api/v1/house/sign-in')),
})
const roles = useQuery({ queryKey: ['access', 'roles'], queryFn: () => ask(api.GET('/api/v1/access/roles')) })
const secret = ref('')
function given() {
  const now = query.data.value
  return (
    now && {
      on: now.on,
      name: now.name,
      issuer: now.issuer,
      client_id: now.client_id,
      groups_claim: now.groups_claim,
      role: now.role_id ?? null,
    }
  )
}
const edit = useEdit(
  given,
  (fields, version) =>
    ask(
      api.PUT('/api/v1/house/sign-in', {
        params: { header: { 'if-match': `"${version}"` } },
        body: { ...fields, secret: secret.value },
      }),
    ),
  {
    what: 'Sign-in',
    place: () => 'sign-in',
    version: () => query.data.value?.version,
    after: () => (secret.value = ''),
  },
)
const { fields, save, ready } = edit
useUnsaved("The client's secret", () => secret.value !== '')
const roleOf = (id: unknown) => roles.data.value?.roles.find((one) => one.id === id)
const chosen = computed(() => roleOf(fields.value.role))
const FIELDS = ['name', 'issuer', 'client_id', 'groups_claim', 'role', 'secret']
const NAMES = {
  client_id: 'Client',
  groups_claim: 'Claim with groups',
  on: 'In use',
  role: 'Role of newcomers',
}
const say = (path: string, value: unknown): string | undefined =>
  path === 'role' ? (roleOf(value)?.name ?? 'none') : undefined
</script>

<template>
  <div class="stack">
    <div>
      <h1>Sign-in</h1>
      <p class="lead">Sign-in: by the company's own identity provider, beside passwords.</p>
    </div>
    <HouseTabs />
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <FormSheet
        v-if="query.data.value && ready"
        :edit="edit"
        action="Keep it"
        :fields="FIELDS"
        :names="NAMES"
        :say="say"
        :says="`Kept${fields.on ? '; the provider answers under this name' : ''}.`"
      >
        <el-checkbox v-model="fields.on">People can sign in by the identity provider</el-checkbox>
        <div class="row top">
          <Field
            v-slot="{ id }"
            label="What the button names"
            help="“By Merrowdale sign-in”"
            :fault="faultOf(save.error.value, 'name')"
            ><el-input :id="id" v-model="fields.name" style="--chars: 24"
          /></Field>
          <Field
            v-slot="{ id }"
            label="Issuer"
            help="the provider's address, as it names itself"
            :fault="faultOf(save.error.value, 'issuer')"
            ><el-input
              :id="id"
              v-model="fields.issuer"
              style="--chars: 42"
              placeholder="its address, with https"
          /></Field>
        </div>
        <div class="row top">
          <Field
            v-slot="{ id }"
            label="Client"
            help="what the provider knows Tallyman by"
            :fault="faultOf(save.error.value, 'client_id')"
            ><el-input :id="id" v-model="fields.client_id" style="--chars: 24"
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
            ><Choice
              :id="id"
              v-model="fields.role"
              nothing="none: they may hand in ideas"
              :options="(roles.data.value?.roles ?? []).map((one) => ({ value: one.id, words: one.name }))"
          /></Field>
          <Field
            v-slot="{ id }"
            label="Claim with groups"
            help="its values are compared with those of our groups"
            :fault="faultOf(save.error.value, 'groups_claim')"
            ><el-input :id="id" v-model="fields.groups_claim" style="--chars: 20"
          /></Field>
        </div>
        <p v-if="chosen && chosen.permissions.length > 2" class="note care">
          Everybody whom the provider lets in gets this at once: {{ chosen.words.join('; ') }}.
        </p>
      </FormSheet>
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
.address {
  font-family: ui-monospace, monospace;
  font-size: 12px;
  overflow-wrap: anywhere;
}
</style>
