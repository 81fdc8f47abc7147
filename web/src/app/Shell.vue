<script setup lang="ts">
import { useLocalStorage, useMutationObserver } from '@vueuse/core'
import { defineAsyncComponent, nextTick, ref, watch, watchEffect } from 'vue'
import { useRoute } from 'vue-router'
import Margin from '@/shared/Margin.vue'
import FactorPage from '@/people/FactorPage.vue'
import Mark from '@/shared/Mark.vue'
import When from '@/shared/When.vue'
import { listenForKeys, useKeys } from '@/shared/keys'
import { usePlaces } from '@/shared/places'
import KeyHelp from './KeyHelp.vue'
import UndoBar from './UndoBar.vue'
import { connectionLost, useLive } from './live'
import { seeAsOneself } from '@/api/seeing'
import { useMe, useSignOut } from '@/shared/session'
import { draftsOf, dropOldDrafts } from '@/shared/unsaved'
import Leaving from './Leaving.vue'

// The band stands before the parts that search needs were read.
const SearchBox = defineAsyncComponent(() => import('@/search/SearchBox.vue'))
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

// Kept until the recovery codes were seen, which is later than the factor is on.
const missing = ref<string[]>([])
watchEffect(() => {
  if (me.value?.factor_for.length && !me.value.seen_by) missing.value = me.value.factor_for
})
// On a phone the band is one line; the sections and what is one's own come when they are called.
const open = ref(false)
watch(
  () => route.path,
  () => (open.value = false),
)
const { sections, rules } = usePlaces()

listenForKeys()
useKeys([
  {
    key: 't',
    words: 'Light or dark',
    act: () => (theme.value = theme.value === 'light' ? 'dark' : 'light'),
  },
])
// The title names what is open: whatever stands as the heading of the sheet, then its section.
const place = ref<HTMLElement | null>(null)
const heading = ref('')
const readHeading = () => (heading.value = place.value?.querySelector('h1')?.textContent?.trim() ?? '')
useMutationObserver(place, readHeading, { childList: true, subtree: true, characterData: true })
watchEffect(() => {
  const names = [heading.value, String(route.meta.section ?? ''), 'Tallyman'].filter(Boolean)
  document.title = [...new Set(names)].join(' · ')
})
// Who goes on by keys begins at the new page, not at the link that is gone.
watch(
  () => route.path,
  (_, before) =>
    before &&
    void nextTick(() => {
      const here = document.activeElement
      if (!here || here === document.body || !place.value?.contains(here))
        place.value?.focus({ preventScroll: true })
    }),
  { flush: 'post' },
)
</script>

<template>
  <a class="skip" href="#sheet">Skip to the sheet</a>
  <header class="band" :class="{ open }">
    <div class="inner">
      <div class="top">
        <router-link to="/" class="name" aria-label="Tallyman, to Today"><Mark /> Tallyman</router-link>
        <SearchBox v-if="me" class="search" />
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
            v-if="rules.length"
            to="/house"
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
          :to="section.link"
          :class="{ on: route.meta.section === section.name }"
          :aria-current="route.meta.section === section.name ? 'page' : undefined"
          >{{ section.name }}</router-link
        >
      </nav>
    </div>
  </header>
  <div class="page">
    <main id="sheet" ref="place" tabindex="-1">
      <FactorPage v-if="missing.length" :roles="missing" @done="missing = []" />
      <router-view v-else-if="me" :key="route.path" />
    </main>
    <Margin v-if="me" :person="me.id" />
  </div>
  <Leaving />
  <KeyHelp />
  <UndoBar />
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
.search {
  margin-left: auto;
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
