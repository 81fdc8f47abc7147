<script setup lang="ts">
import type { Schemas } from '@/api/client'
import Fold from '@/shared/Fold.vue'
import { several } from '@/shared/format'

/** Ideas like this one: those that may be the same work ask for a verdict, the others are only listed. */
type Match = Schemas['Match']
defineProps<{ asked: Match[]; unlikely: Match[]; verdict: (match: Match) => string | null }>()
const emit = defineEmits<{ settle: [match: Match, verdict: 'same' | 'other'] }>()
</script>

<template>
  <p v-if="!asked.length" class="quiet">No other idea is likely to be the same work.</p>
  <ul v-else class="matches">
    <li v-for="(match, n) in asked" :key="match.id">
      <kbd class="key">{{ n + 1 }}</kbd>
      <div>
        <router-link class="whole" :to="`/ideas/${match.id}`">I-{{ match.id }} {{ match.title }}</router-link>
        <span class="quiet"> {{ match.stage }}</span>
        <div class="quiet clip" :title="match.what">{{ match.what }}</div>
        <div class="quiet">Both say {{ match.words.join(', ') }}</div>
        <div class="row" role="group" :aria-label="`Is I-${match.id} the same work?`">
          <el-button
            class="chip"
            :class="{ on: verdict(match) === 'same' }"
            :aria-pressed="verdict(match) === 'same'"
            @click="emit('settle', match, 'same')"
          >
            Same
          </el-button>
          <el-button
            class="chip"
            :class="{ on: verdict(match) === 'other' }"
            :aria-pressed="verdict(match) === 'other'"
            @click="emit('settle', match, 'other')"
          >
            Other
          </el-button>
          <span v-if="match.by" class="quiet">{{ match.by }}</span>
        </div>
      </div>
    </li>
  </ul>
  <Fold
    v-if="unlikely.length"
    :words="`${several(unlikely.length, 'other shares', 'others share')} only common words with it`"
  >
    <p v-for="match in unlikely" :key="match.id">
      <router-link :to="`/ideas/${match.id}`">I-{{ match.id }} {{ match.title }}</router-link>
      <span class="quiet"> {{ match.stage }}; both say {{ match.words.join(', ') }}</span>
      <el-button link type="primary" @click="emit('settle', match, 'same')">It is the same</el-button>
    </p>
  </Fold>
</template>

<style scoped>
.matches {
  list-style: none;
  margin: 0;
  padding: 0;
}
.matches li {
  display: grid;
  grid-template-columns: 22px minmax(0, 1fr);
  gap: 8px;
  padding: 6px 0;
  border-bottom: 1px solid var(--hair);
}
.clip {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  line-clamp: 2;
  overflow: hidden;
}
</style>
