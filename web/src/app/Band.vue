<script setup lang="ts">
import { defineAsyncComponent, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { seeAsOneself } from '@/api/seeing'
import { several } from '@/shared/format'
import { useKeys } from '@/shared/keys'
import Mark from '@/shared/Mark.vue'
import { usePlaces } from '@/shared/places'
import { useMe, useSignOut } from '@/shared/session'
import When from '@/shared/When.vue'
import { connectionLost } from './live'
import { useTheme } from './theme'
import Sections from './Sections.vue'

/** The band: name, search, what is one's own, and the sections. */
const SearchBox = defineAsyncComponent(() => import('@/search/SearchBox.vue'))
const route = useRoute()
const { me, may } = useMe()
const signOut = useSignOut()
const { rules } = usePlaces()
const { theme, turn } = useTheme()
useKeys([{ key: 't', words: 'Light or dark', act: turn }])
// On a phone the band is one line; the sections and what is one's own come when they are called.
const open = ref(false)
watch(
  () => route.path,
  () => (open.value = false),
)
</script>

<template>
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
            {{ several(me.unread, 'message', 'messages') }}
          </router-link>
          <el-button link type="primary" @click="turn">{{ theme === 'light' ? 'Dark' : 'Light' }} </el-button>
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
      <Sections />
    </div>
  </header>
</template>

<style scoped>
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
@media (max-width: 700px) {
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
  .name {
    min-height: 40px;
    display: inline-flex;
    align-items: center;
  }
  .who .menu {
    display: inline-flex;
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
}
</style>
