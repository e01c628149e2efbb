<script setup lang="ts">
import { computed, ref } from 'vue';
import { TEXTS } from './texts.ts';

/** A company without a file of sales: what it plans by, written down. */
const emit = defineEmits<{
  begin: [dimensions: { name: string; members: string[] }[]];
  back: [];
}>();
const lines = ref([
  { name: TEXTS.product, members: '' },
  { name: TEXTS.channel, members: '' },
]);
const MOST = 12;
const written = computed(() =>
  lines.value
    .map(({ name, members }) => ({
      name: name.trim(),
      // Of two that differ in their capitals only, the first is the member.
      members: members
        .split(/[\n;,]/)
        .map((text) => text.trim())
        .filter(
          (text, place, all) =>
            text !== '' &&
            all.findIndex((one) => one.toLowerCase() === text.toLowerCase()) === place,
        ),
    }))
    .filter(({ name, members }) => name !== '' && members.length > 0),
);
</script>

<template>
  <section class="sheet">
    <h1>{{ TEXTS.whatDoYouPlanBy }}</h1>
    <p class="quiet">
      {{ TEXTS.nameWhatYouSellAnd }}
    </p>
    <form @submit.prevent="emit('begin', written)">
      <div
        v-for="(line, place) in lines"
        :key="place"
        class="line"
        role="group"
        :aria-label="TEXTS.dimensionOf(place + 1)"
      >
        <v-text-field v-model="line.name" :label="TEXTS.dimension" maxlength="60" width="160" />
        <v-textarea
          v-model="line.members"
          :label="TEXTS.members"
          :placeholder="TEXTS.ryeBreadRollsCakes"
          rows="2"
        />
      </div>
      <p class="controls">
        <v-btn :disabled="lines.length >= MOST" @click="lines.push({ name: '', members: '' })">
          {{ TEXTS.addDimension }}
        </v-btn>
      </p>
      <p class="controls">
        <v-btn color="primary" variant="flat" type="submit" :disabled="written.length === 0">
          {{ TEXTS.continue }}
        </v-btn>
        <v-btn color="primary" @click="emit('back')">{{ TEXTS.chooseFileInstead }}</v-btn>
      </p>
    </form>
  </section>
</template>

<style scoped>
.sheet {
  display: grid;
  gap: 12px;
  max-width: 720px;
  background: var(--surface);
  border-top: 2px solid var(--ink);
  padding: 26px 28px;
}
.line {
  display: grid;
  grid-template-columns: 160px 1fr;
  gap: 12px;
  margin-bottom: 6px;
}
form {
  display: grid;
  gap: 10px;
}
</style>
