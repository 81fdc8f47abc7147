<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import { useAction } from '@/shared/action'
import { faultOf } from '@/shared/faults'
import Field from '@/shared/Field.vue'
import Loaded from '@/shared/Loaded.vue'
import Problem from '@/shared/Problem.vue'
import AwayForm from './AwayForm.vue'
import MyAccess from '@/access/MyAccess.vue'
import MyTokens from './MyTokens.vue'
import PasswordForm from './PasswordForm.vue'
import SecondFactor from './SecondFactor.vue'
import SignIns from './SignIns.vue'
import Suggest from '@/shared/Suggest.vue'

/** One's own profile, what one may do, and where one is signed in. */
const query = useQuery({ queryKey: ['people', 'profile'], queryFn: () => ask(api.GET('/api/v1/profile')) })
const profile = computed(() => query.data.value)
const name = ref('')
const zone = ref('')
const locale = ref('')
const mail = ref<Record<string, string>>({})
const seen = ref(0)
watch(
  profile,
  (now) => {
    if (!now || seen.value === now.version) return
    name.value = now.name
    zone.value = now.zone
    locale.value = now.locale
    mail.value = Object.fromEntries(now.mail.map((one) => [one.kind, one.how]))
    seen.value = now.version
  },
  { immediate: true },
)
const route = useRoute()
const { may } = useMe()
const sheet = computed(() => String(route.query.sheet ?? ''))
const tabs = computed(() =>
  [
    { name: 'About me', sheet: '', shown: true },
    { name: 'What I may do', sheet: 'access', shown: true },
    { name: 'Sign-in', sheet: 'sign-in', shown: true },
    { name: 'Programs', sheet: 'programs', shown: may('token.make') },
  ].filter((tab) => tab.shown),
)
const zones = Intl.supportedValuesOf('timeZone')
const kept = ref(false)
const save = useAction(async () => {
  kept.value = false
  await ask(
    api.PUT('/api/v1/profile', {
      params: { header: { 'if-match': `"${seen.value}"` } },
      body: { name: name.value, zone: zone.value, locale: locale.value, mail: mail.value },
    }),
  )
  kept.value = true
})
</script>

<template>
  <div class="stack">
    <div>
      <h1>My profile</h1>
      <p v-if="profile" class="lead">{{ profile.email }}</p>
    </div>
    <nav class="tabs" aria-label="My profile">
      <router-link
        v-for="tab in tabs"
        :key="tab.sheet"
        :to="{ query: tab.sheet ? { sheet: tab.sheet } : {} }"
        :class="{ on: sheet === tab.sheet }"
        active-class=""
        exact-active-class=""
        >{{ tab.name }}</router-link
      >
    </nav>
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <template v-if="profile && sheet === 'access'"><MyAccess /></template>
      <template v-else-if="profile && sheet === 'sign-in'">
        <PasswordForm />
        <SecondFactor :factor="profile.second_factor" />
        <SignIns :sessions="profile.sessions" />
      </template>
      <MyTokens v-else-if="profile && sheet === 'programs'" />
      <template v-else-if="profile">
        <form class="stack tight" @submit.prevent="save.go()">
          <div class="row top">
            <Field v-slot="{ id }" label="Name" :fault="faultOf(save.error.value, 'name')"
              ><el-input :id="id" v-model="name" style="--chars: 26" autocomplete="name"
            /></Field>
            <Field
              v-slot="{ id }"
              label="Time zone"
              help="times are shown in it"
              :fault="faultOf(save.error.value, 'zone')"
              ><Suggest :id="id" v-model="zone" :known="zones" :chars="24"
            /></Field>
            <Field v-slot="{ id }" label="Numbers and dates as" :fault="faultOf(save.error.value, 'locale')"
              ><el-select :id="id" v-model="locale"
                ><el-option
                  v-for="one in profile.locales"
                  :key="one.value"
                  :value="one.value"
                  :label="one.words" /></el-select
            ></Field>
          </div>
          <h2>By mail</h2>
          <p v-for="one in profile.mail" :key="one.kind" class="row">
            <el-select v-model="mail[one.kind]" :aria-label="`By mail ${one.words}`"
              ><el-option value="at once" label="at once" />
              <el-option value="daily" label="once a day" />
              <el-option value="none" label="never"
            /></el-select>
            <span>{{ one.words }}</span>
          </p>
          <Problem :error="save.error.value" :fields="['name', 'zone', 'locale']" />
          <p class="row">
            <el-button :disabled="save.busy.value" type="primary" native-type="submit"
              >Keep the profile</el-button
            >
            <span v-if="kept" role="status" class="quiet">Kept.</span>
          </p>
        </form>
        <AwayForm :profile="profile" />
      </template>
    </Loaded>
  </div>
</template>

<style scoped>
.top {
  align-items: flex-start;
}
</style>
