<script setup lang="ts">
import { useLocalStorage } from '@vueuse/core'
import { computed, ref, watch, watchEffect } from 'vue'
import { useRoute } from 'vue-router'
import Margin from '@/shared/Margin.vue'
import FactorPage from '@/people/FactorPage.vue'
import Mark from '@/shared/Mark.vue'
import When from '@/shared/When.vue'
import { connectionLost, useLive } from './live'
import { seeAsOneself } from '@/api/seeing'
import { useMe, useSignOut } from '@/shared/session'
import { draftsOf, dropOldDrafts } from '@/shared/unsaved'
import Leaving from './Leaving.vue'

const route = useRoute()
const { me, may } = useMe()
const signOut = useSignOut()
useLive()
// Whose drafts these are is known before any page of theirs stands.
watch(
  () => me.value?.id,
  (id) => id !== undefined && draftsOf(id),
  { immediate: true, flush: 'sync' },
)
dropOldDrafts(new Date())

const theme = useLocalStorage<'light' | 'dark'>('tallyman-theme', 'light')
watchEffect(() => (document.documentElement.dataset.theme = theme.value))
watchEffect(() => (document.title = `${route.meta.section ?? 'Tallyman'} · Tallyman`))

// Kept until the recovery codes were seen, which is later than the factor is on.
const missing = ref<string[]>([])
watchEffect(() => {
  if (me.value?.factor_for.length && !me.value.seen_by) missing.value = me.value.factor_for
})
const house = computed(() => {
  const some = [
    'person.see',
    'role.see',
    'house.change',
    'secret.see',
    'mail.see',
    'audit.see',
    'area.change',
  ]
  return some.some(may) ? '/house' : undefined
})
// On a phone the band is one line; the sections and what is one's own come when they are called.
const open = ref(false)
watch(
  () => route.path,
  () => (open.value = false),
)
const sections = computed(() =>
  [
    { name: 'Today', to: '/', shown: true },
    { name: 'Ideas', to: '/ideas', shown: true },
    { name: 'Portfolio', to: '/portfolio', shown: may('case.decide') || may('value.see') },
    { name: 'Workshop', to: '/workshop', shown: may('package.see') },
    { name: 'Robots', to: '/robots', shown: may('robot.see') },
    { name: 'Runs', to: '/runs', shown: may('run.see') },
    { name: 'Value', to: '/value', shown: may('value.see') },
  ].filter((section) => section.shown),
)
</script>

<template>
  <a class="skip" href="#sheet">Skip to the sheet</a>
  <header class="band" :class="{ open }">
    <div class="inner">
      <div class="top">
        <router-link to="/" class="name" aria-label="Tallyman, to Today"><Mark /> Tallyman</router-link>
        <div class="who">
          <span v-if="connectionLost" class="lost" role="status">
            Connection lost, shown as of <When :at="connectionLost.toISOString()" clock />
          </span>
          <router-link v-if="me" to="/?told=1" class="told always" :class="{ some: me.unread > 0 }">
            {{ me.unread }} {{ me.unread === 1 ? 'message' : 'messages' }}
          </router-link>
          <el-button link type="primary" @click="theme = theme === 'light' ? 'dark' : 'light'"
            >{{ theme === 'light' ? 'Dark' : 'Light' }}
          </el-button>
          <router-link
            v-if="house"
            :to="house"
            class="told"
            :class="{ here: route.path.startsWith('/house') }"
            >House rules</router-link
          >
          <router-link v-if="may('health.see')" to="/health" class="told" active-class="here"
            >Health</router-link
          >
          <router-link
            v-if="me"
            to="/profile"
            class="told"
            active-class="here"
            :title="`${me.email}, ${me.zone}`"
            >{{ me.name }}{{ me.roles.length ? `, ${me.roles.join(', ')}` : '' }}</router-link
          >
          <el-button v-if="me" link type="primary" @click="signOut">Sign out</el-button>
          <el-button
            class="menu always"
            link
            :aria-expanded="open"
            aria-controls="sections"
            @click="open = !open"
            >{{ open ? 'Close' : 'Sections' }}</el-button
          >
        </div>
      </div>
      <p v-if="me?.seen_by" class="seeing" role="status">
        <b>You see this as {{ me.name }}.</b> Nothing can be changed meanwhile.
        <el-button @click="seeAsOneself()">See as {{ me.seen_by }} again</el-button>
      </p>
      <nav id="sections" aria-label="Sections">
        <router-link
          v-for="section in sections"
          :key="section.name"
          :to="section.to"
          :class="{ on: route.meta.section === section.name }"
          :aria-current="route.meta.section === section.name ? 'page' : undefined"
          >{{ section.name }}</router-link
        >
      </nav>
    </div>
  </header>
  <div class="page">
    <main id="sheet" tabindex="-1">
      <FactorPage v-if="missing.length" :roles="missing" @done="missing = []" />
      <router-view v-else-if="me" :key="route.path" />
    </main>
    <Margin v-if="me" :person="me.id" />
  </div>
  <Leaving />
</template>

<style scoped>
.skip {
  position: absolute;
  left: -999px;
}
.skip:focus {
  left: 8px;
  top: 8px;
  background: var(--sheet);
  padding: 4px 8px;
  z-index: 5;
}
.band {
  background: var(--band);
  color: var(--band-ink);
}
.inner {
  max-width: 1560px;
  margin: 0 auto;
  padding: 0 28px;
}
.top {
  display: flex;
  justify-content: space-between;
  align-items: center;
  padding: 9px 0 7px;
  gap: 16px;
  flex-wrap: wrap;
}
.name {
  font: 600 21px/28px var(--title-face);
  color: var(--band-ink);
  display: flex;
  gap: 8px;
  align-items: center;
}
.who {
  display: flex;
  gap: 14px;
  align-items: center;
  font-size: 13px;
  flex-wrap: wrap;
}
.who button {
  color: var(--band-ink-2);
  font-weight: 400;
  font-size: 13px;
}
.who .menu {
  display: none;
}
.me,
.told {
  color: var(--band-ink-2);
}
.told.here {
  color: var(--band-ink);
  font-weight: 600;
}
.seeing {
  background: var(--sheet);
  color: var(--care);
  padding: 6px 12px;
  margin-bottom: 8px;
  display: flex;
  gap: 12px;
  align-items: center;
  flex-wrap: wrap;
}
.told.some,
.lost {
  color: #f0c98a;
}
nav {
  display: flex;
  flex-wrap: wrap;
}
nav a {
  color: var(--band-ink-2);
  padding: 4px 15px 7px;
}
nav a:hover {
  color: var(--band-ink);
  background: var(--band-2);
  text-decoration: none;
}
nav a.on {
  background: var(--sheet);
  color: var(--ink);
  font-weight: 600;
}
.page {
  max-width: 1512px;
  margin: 0 auto;
  display: flex;
  min-height: calc(100vh - 77px);
}
main {
  flex: 1;
  min-width: 0;
  background: var(--sheet);
  padding: 24px 28px 48px;
}
main:focus {
  outline: none;
}
@media (max-width: 1100px) {
  main {
    padding-right: 52px;
  }
}
@media (max-width: 700px) {
  .page {
    flex-direction: column;
  }
  main {
    flex: 0 1 auto;
    padding: 16px 14px 28px;
  }
  .inner {
    padding: 0 14px;
  }
  .top {
    padding: 4px 0;
    gap: 0 16px;
  }
  .who {
    gap: 0 16px;
  }
  .who > *,
  nav a,
  .name {
    min-height: 40px;
    display: inline-flex;
    align-items: center;
  }
  .band:not(.open) .who > *:not(.always, .lost),
  .band:not(.open) nav {
    display: none;
  }
  .band.open .who {
    flex-basis: 100%;
    order: 3;
  }
  .band.open nav {
    padding-bottom: 6px;
  }
  nav a {
    padding: 0 12px;
  }
}
</style>
