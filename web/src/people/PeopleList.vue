<script setup lang="ts">
import {
  holdsPart,
  peopleOperations,
  targetOperations,
  type PasswordLink,
  type Role,
  type WorkspacePerson,
} from '@dravex/contract';
import { mdiDotsVertical } from '@mdi/js';
import { computed, ref } from 'vue';
import { whenInWords } from '../format/moments.ts';
import { WORDS } from '../format/words.ts';
import DialogSheet from '../kit/DialogSheet.vue';
import FormDialog from '../kit/FormDialog.vue';
import SheetTable from '../kit/SheetTable.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';
import { useWriting } from '../writing/use-writing.ts';
import PartsField from './PartsField.vue';
import { TEXTS } from './texts.ts';
import { useRights } from './use-planner.ts';

/** Who can enter the workspace: invited, given another role, helped to a new password, removed. */
const plan = usePlan();
const { owns } = useRights();
const people = useAnswer([() => plan.tick, () => plan.savedAt], () =>
  plan.ask(peopleOperations.listPeople, {}),
);
const ROLE_WORDS: readonly { value: Role; name: string }[] = [
  { value: 'reader', name: TEXTS.readerSeesEverythingChangesNothing },
  {
    value: 'contributor',
    name: TEXTS.contributorFillsInOwnBudget,
  },
  { value: 'manager', name: TEXTS.managerSeesAndDividesOwn },
  { value: 'planner', name: TEXTS.plannerSeesAndChangesEverything },
  { value: 'owner', name: TEXTS.ownerPlansAndSaysWho },
];
/** What can be held; only an owner is told. */
const known = useAnswer([() => plan.tick], () =>
  owns.value ? plan.ask(targetOperations.listParts, {}) : Promise.resolve([]),
);
const parts = computed(() =>
  (known.data.value ?? []).map(({ node, name, fiscalYear, objective }) => ({
    value: node,
    name: `${name}, ${objective} FY ${fiscalYear}`,
  })),
);
/** What somebody holds, in words. */
function partsInWords({ role, parts: held }: WorkspacePerson): string {
  if (!holdsPart(role)) return '';
  const names = (known.data.value ?? []).filter(({ node }) => held.includes(node));
  const short = new Set(names.map(({ name }) => name.split(', ').at(-1) ?? ''));
  if (short.size > 0) return TEXTS.of([...short].join(', '));
  return held.length === 0 ? TEXTS.withoutPartYet : '';
}

/** A link that was made just now: it cannot be had again. */
const made = ref<{ name: string; link: PasswordLink }>();
/** Until when a link holds: an hour from now. */
const untilWhen = computed(() => whenInWords(made.value?.link.expiresAt ?? '', plan.locale));
const showing = computed({
  get: () => made.value !== undefined,
  set: (open) => {
    if (!open) made.value = undefined;
  },
});
const address = computed(() => `${location.origin}/password/${made.value?.link.token ?? ''}`);
const copied = ref(false);
async function copy(): Promise<void> {
  await navigator.clipboard.writeText(address.value);
  copied.value = true;
}
function show(name: string, link: PasswordLink): void {
  copied.value = false;
  made.value = { name, link };
}

const inviting = ref(false);
const { form, field, dialog } = useForm({
  fresh: () => ({ name: '', email: '', role: 'reader' as Role, parts: [] as readonly number[] }),
  schema: peopleOperations.invitePerson.body,
  send: async (body) => {
    const { link } = await plan.ask(peopleOperations.invitePerson, {}, body);
    show(body.name, link);
  },
  done: () => (inviting.value = false),
});
const { failure: refused, write } = useWriting();
/** Whose role and part are changed. */
const changing = ref<WorkspacePerson>();
const change = useForm({
  of: () => String(changing.value?.id ?? ''),
  fresh: () => ({
    role: changing.value?.role ?? ('reader' as Role),
    parts: (changing.value?.parts ?? []) as readonly number[],
  }),
  schema: peopleOperations.changeRole.body,
  send: async (body) => {
    const one = changing.value;
    if (!one) return;
    await plan.ask(peopleOperations.changeRole, { personId: one.id }, body);
    plan.said = { text: TEXTS.isNow(one.name, body.role), undo: 'people' };
  },
  done: () => (changing.value = undefined),
});
const changingRole = computed({
  get: () => changing.value !== undefined,
  set: (open) => {
    if (!open) changing.value = undefined;
  },
});
const remove = ({ id: personId, name }: WorkspacePerson) =>
  write(
    () => plan.ask(peopleOperations.removePerson, { personId }),
    () => (plan.said = { text: TEXTS.removed(name), undo: 'people' }),
  );
/** Whose second factor is to be taken away; it is asked once more, since nothing brings it back. */
const taking = ref<WorkspacePerson>();
const asking = computed({
  get: () => taking.value !== undefined,
  set: (open) => {
    if (!open) taking.value = undefined;
  },
});
async function takeFactor(): Promise<void> {
  const { id: personId, name } = taking.value ?? {};
  taking.value = undefined;
  if (personId === undefined) return;
  await write(
    () => plan.ask(peopleOperations.takeSecondFactor, { personId }),
    () => (plan.said = { text: TEXTS.signsInWithPasswordOnly(name ?? '') }),
  );
}
const rules = useAnswer([() => plan.tick], () => plan.ask(peopleOperations.readEntryRules, {}));
const setRules = (secondFactor: boolean) =>
  write(
    () => plan.ask(peopleOperations.setEntryRules, {}, { secondFactor }),
    () => {
      rules.data.value = { secondFactor };
    },
  );
const reset = ({ id: personId, name }: WorkspacePerson) =>
  write(
    () => plan.ask(peopleOperations.resetPassword, { personId }),
    (link) => show(name, link),
  );
</script>

<template>
  <section aria-labelledby="people-title">
    <h2 id="people-title">{{ TEXTS.people }}</h2>
    <p v-if="people.failure.value || refused" class="failure" role="alert">
      {{ refused || people.failure.value }}
    </p>
    <SheetTable :about="TEXTS.people">
      <thead>
        <tr>
          <th scope="col">{{ WORDS.name }}</th>
          <th scope="col" class="words">{{ TEXTS.eMailAddress }}</th>
          <th scope="col" class="words">{{ TEXTS.role }}</th>
          <th scope="col">
            <span class="hidden-but-read">{{ TEXTS.actions }}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in people.data.value ?? []" :key="one.id">
          <td>
            {{ one.name }} <span v-if="one.invited" class="waits">{{ TEXTS.invited }}</span>
          </td>
          <td class="words">{{ one.email }}</td>
          <td class="words">
            {{ one.role }} <span class="quiet">{{ partsInWords(one) }}</span>
          </td>
          <td>
            <v-menu v-if="owns" location="bottom end">
              <template #activator="{ props: activator }">
                <v-btn
                  v-bind="activator"
                  variant="text"
                  :icon="mdiDotsVertical"
                  :aria-label="TEXTS.actionsFor(one.name)"
                />
              </template>
              <v-list role="menu" :aria-label="TEXTS.actionsFor(one.name)">
                <v-list-item
                  role="menuitem"
                  :title="TEXTS.changeRoleAndPart"
                  @click="changing = one"
                />
                <v-list-item
                  role="menuitem"
                  :title="one.invited ? TEXTS.newInvitationLink : TEXTS.resetPasswordByLink"
                  @click="reset(one)"
                />
                <v-list-item
                  v-if="one.secondFactor"
                  role="menuitem"
                  :title="TEXTS.removeSecondFactor"
                  @click="taking = one"
                />
                <v-list-item
                  role="menuitem"
                  :title="TEXTS.removeFromWorkspace"
                  @click="remove(one)"
                />
              </v-list>
            </v-menu>
          </td>
        </tr>
      </tbody>
    </SheetTable>
    <v-switch
      v-if="owns && rules.data.value"
      :model-value="rules.data.value.secondFactor"
      :label="TEXTS.everybodyNeedsSecondFactor"
      color="primary"
      hide-details
      density="compact"
      @update:model-value="setRules($event === true)"
    />
    <v-btn v-if="owns" color="primary" variant="flat" @click="inviting = true">
      {{ TEXTS.invitePerson }}
    </v-btn>
    <FormDialog
      v-model="inviting"
      :title="TEXTS.inviteAPerson"
      :action="TEXTS.invite"
      :width="400"
      v-bind="dialog"
    >
      <p class="quiet">{{ TEXTS.theyChooseTheirOwnPassword }}</p>
      <v-text-field v-bind="field('name')" :label="WORDS.name" autocomplete="off" />
      <v-text-field
        v-bind="field('email')"
        :label="TEXTS.eMailAddress"
        type="email"
        autocomplete="off"
      />
      <v-select v-bind="field('role')" :label="TEXTS.role" :items="ROLE_WORDS" />
      <PartsField v-if="holdsPart(form.role)" v-bind="field('parts')" :parts="parts" />
    </FormDialog>
    <FormDialog
      v-model="changingRole"
      :title="TEXTS.roleAndPartOf(changing?.name ?? '')"
      :action="WORDS.save"
      :width="460"
      v-bind="change.dialog"
    >
      <v-select v-bind="change.field('role')" :label="TEXTS.role" :items="ROLE_WORDS" />
      <PartsField
        v-if="holdsPart(change.form.value.role)"
        v-bind="change.field('parts')"
        :parts="parts"
      />
    </FormDialog>
    <FormDialog
      v-model="asking"
      :title="TEXTS.secondFactorOf(taking?.name ?? '')"
      :action="WORDS.remove"
      :width="440"
      @submit="takeFactor"
    >
      <p>
        {{ TEXTS.thenSignsInWithPassword(taking?.name ?? '') }}
      </p>
    </FormDialog>
    <DialogSheet v-model="showing" :title="TEXTS.linkFor(made?.name ?? '')" :width="480">
      <p>
        {{ TEXTS.sendThisLinkToIt(made?.name ?? '', untilWhen) }}
      </p>
      <code data-address>{{ address }}</code>
      <template #actions>
        <v-btn color="primary" variant="flat" @click="copy">
          {{ copied ? TEXTS.copied : TEXTS.copyLink }}
        </v-btn>
        <v-btn color="primary" @click="showing = false">{{ TEXTS.done }}</v-btn>
      </template>
    </DialogSheet>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 8px;
  justify-items: start;
  align-content: start;
}
code {
  font-size: 11.5px;
  overflow-wrap: anywhere;
}
</style>
