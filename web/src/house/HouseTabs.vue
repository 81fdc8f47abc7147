<script setup lang="ts">
import { computed } from 'vue'
import { useMe } from '@/app/session'

/** The subjects of the house rules that the reader may see. */
const { may } = useMe()
const tabs = computed(() =>
  [
    { name: 'People', to: '/house/people', shown: may('person.see') },
    { name: 'Roles', to: '/house/roles', shown: may('role.see') },
    { name: 'Areas', to: '/house/areas', shown: may('area.see') },
    { name: 'Mail', to: '/house/mail', shown: may('mail.see') },
    { name: 'Audit trail', to: '/house/trail', shown: may('audit.see') },
    { name: 'Access asked for', to: '/house/access', shown: may('role.decide') },
  ].filter((tab) => tab.shown),
)
</script>

<template>
  <nav class="tabs" aria-label="House rules">
    <router-link v-for="tab in tabs" :key="tab.to" :to="tab.to" active-class="on">{{ tab.name }}</router-link>
  </nav>
</template>
