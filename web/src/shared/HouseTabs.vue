<script setup lang="ts">
import { computed } from 'vue'
import { useMe } from '@/shared/session'

/** The subjects of the house rules that the reader may see. */
const { may } = useMe()
const tabs = computed(() =>
  [
    { name: 'All rules', to: '/house', shown: true },
    { name: 'Company', to: '/house/company', shown: may('house.change') },
    { name: 'People', to: '/house/people', shown: may('person.see') },
    { name: 'Roles', to: '/house/roles', shown: may('role.see') },
    { name: 'Areas', to: '/house/areas', shown: may('area.see') },
    { name: 'Calendar', to: '/house/calendar', shown: may('area.see') },
    { name: 'Systems', to: '/house/systems', shown: may('system.see') },
    { name: 'Sign-in', to: '/house/sign-in', shown: may('house.change') },
    { name: 'Secrets', to: '/house/secrets', shown: may('secret.see') },
    { name: 'Tokens', to: '/house/tokens', shown: may('token.see') },
    { name: 'Mail', to: '/house/mail', shown: may('mail.see') },
    { name: 'Audit trail', to: '/house/trail', shown: may('audit.see') },
    { name: 'Access asked for', to: '/house/access', shown: may('role.decide') },
  ].filter((tab) => tab.shown),
)
</script>

<template>
  <nav class="tabs" aria-label="House rules">
    <router-link
      v-for="tab in tabs"
      :key="tab.to"
      :to="tab.to"
      :active-class="tab.to === '/house' ? '' : 'on'"
      exact-active-class="on"
      >{{ tab.name }}</router-link
    >
  </nav>
</template>
