<script setup lang="ts">
import { computed, ref } from 'vue';
import { useRoute } from 'vue-router';
import FactsView from '../facts/FactsView.vue';
import LedgerView from '../facts/LedgerView.vue';
import SubscribersView from '../subscriptions/SubscribersView.vue';
import { usePlanner } from '../people/use-planner.ts';
import ImportPreview from './ImportPreview.vue';
import ReadingForm from './ReadingForm.vue';
import SalesTable from './SalesTable.vue';
import SummaryTable from './SummaryTable.vue';
import { useImport } from './use-import.ts';
import { viewIn } from './views.ts';

/** What happened: a file on its way in, else one of the views. A file can be dropped anywhere. */
const route = useRoute();
const planner = usePlanner();
const importing = useImport();
const view = computed(() => viewIn(route.query));
const over = ref(false);
function drop(event: DragEvent): void {
  over.value = false;
  const [file] = event.dataTransfer?.files ?? [];
  if (file && planner.value) void importing.upload(file, view.value.kind);
}
</script>

<template>
  <div
    class="actuals"
    :class="{ over }"
    @dragover.prevent="over = true"
    @dragleave="over = false"
    @drop.prevent="drop"
  >
    <ReadingForm v-if="importing.look && importing.file" />
    <ImportPreview v-else-if="importing.preview" :preview="importing.preview" />
    <SummaryTable v-else-if="view.key === 'summary'" :planner="planner" @batch="importing.show" />
    <SalesTable v-else-if="view.key === 'table'" />
    <SubscribersView v-else-if="view.key === 'subscribers'" />
    <FactsView v-else-if="view.key === 'facts'" />
    <LedgerView v-else />
  </div>
</template>

<style scoped>
.actuals {
  height: 100%;
}
.over {
  outline: 2px dashed var(--harbour);
  outline-offset: 4px;
}
</style>
