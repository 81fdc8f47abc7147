<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { api, ask } from '@/api/client'
import { useMe } from '@/shared/session'
import Loaded from '@/shared/Loaded.vue'
import AwayForm from './AwayForm.vue'
import MyAccess from '@/access/MyAccess.vue'
import MyKeys from './MyKeys.vue'
import MyTokens from './MyTokens.vue'
import ProfileForm from './ProfileForm.vue'
import PasswordForm from './PasswordForm.vue'
import SecondFactor from './SecondFactor.vue'
import SignIns from './SignIns.vue'
import Sheets from '@/shared/Sheets.vue'

/** One's own profile, what one may do, and where one is signed in. */
const query = useQuery({ queryKey: ['people', 'profile'], queryFn: () => ask(api.GET('/api/v1/profile')) })
const profile = computed(() => query.data.value)
const route = useRoute()
const { may } = useMe()
const sheet = computed(() => String(route.query.sheet ?? ''))
const tabs = computed(() =>
  [
    { key: '', words: 'About me', shown: true },
    { key: 'access', words: 'What I may do', shown: true },
    { key: 'sign-in', words: 'Sign-in', shown: true },
    { key: 'programs', words: 'Programs', shown: may('token.make') },
  ]
    .filter((tab) => tab.shown)
    .map(({ key, words }) => {
      const query: Record<string, string> = key ? { sheet: key } : {}
      return { key, words, query }
    }),
)
</script>

<template>
  <div class="stack">
    <div>
      <h1>My profile</h1>
      <p v-if="profile" class="lead">
        {{ profile.email }} · <router-link to="/my-computer">My computer</router-link>
      </p>
    </div>
    <Sheets label="My profile" :sheets="tabs" :now="sheet" />
    <Loaded :pending="query.isPending.value" :error="query.error.value">
      <template v-if="profile && sheet === 'access'"><MyAccess /></template>
      <template v-else-if="profile && sheet === 'sign-in'">
        <PasswordForm />
        <SecondFactor :factor="profile.second_factor" />
        <SignIns :sessions="profile.sessions" />
      </template>
      <template v-else-if="profile && sheet === 'programs'">
        <MyTokens />
        <MyKeys />
      </template>
      <template v-else-if="profile">
        <ProfileForm :profile="profile" />
        <AwayForm :profile="profile" />
      </template>
    </Loaded>
  </div>
</template>
