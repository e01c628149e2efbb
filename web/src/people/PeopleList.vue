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
import DialogSheet from '../kit/DialogSheet.vue';
import FormDialog from '../kit/FormDialog.vue';
import SheetTable from '../kit/SheetTable.vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from '../writing/use-form.ts';
import { useWriting } from '../writing/use-writing.ts';
import PartsField from './PartsField.vue';
import { useRights } from './use-planner.ts';

/** Who can enter the workspace: invited, given another role, helped to a new password, removed. */
const plan = usePlan();
const { owns } = useRights();
const people = useAnswer([() => plan.tick, () => plan.savedAt], () =>
  plan.ask(peopleOperations.listPeople, {}),
);
const ROLE_WORDS: readonly { value: Role; name: string }[] = [
  { value: 'reader', name: 'Reader: sees everything, changes nothing' },
  {
    value: 'contributor',
    name: 'Contributor: fills in the own budget sheets, sees the own targets',
  },
  { value: 'manager', name: 'Manager: sees and divides the own part of the targets' },
  { value: 'planner', name: 'Planner: sees and changes everything' },
  { value: 'owner', name: 'Owner: plans, and says who may enter' },
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
  if (short.size > 0) return `of ${[...short].join(', ')}`;
  return held.length === 0 ? 'without a part yet' : '';
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
    plan.said = { text: `${one.name} is ${body.role} now`, undo: 'people' };
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
    () => (plan.said = { text: `Removed ${name}`, undo: 'people' }),
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
    () => (plan.said = { text: `${name} signs in with a password only` }),
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
    <h2 id="people-title">People</h2>
    <p v-if="people.failure.value || refused" class="failure" role="alert">
      {{ refused || people.failure.value }}
    </p>
    <SheetTable about="People">
      <thead>
        <tr>
          <th scope="col">Name</th>
          <th scope="col" class="words">E-mail address</th>
          <th scope="col" class="words">Role</th>
          <th scope="col"><span class="hidden-but-read">Actions</span></th>
        </tr>
      </thead>
      <tbody>
        <tr v-for="one in people.data.value ?? []" :key="one.id">
          <td>{{ one.name }} <span v-if="one.invited" class="waits">invited</span></td>
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
                  :aria-label="`Actions for ${one.name}`"
                />
              </template>
              <v-list role="menu" :aria-label="`Actions for ${one.name}`">
                <v-list-item role="menuitem" title="Change role and part" @click="changing = one" />
                <v-list-item
                  role="menuitem"
                  :title="one.invited ? 'New invitation link' : 'Reset password by a link'"
                  @click="reset(one)"
                />
                <v-list-item
                  v-if="one.secondFactor"
                  role="menuitem"
                  title="Take away second factor"
                  @click="taking = one"
                />
                <v-list-item role="menuitem" title="Remove from workspace" @click="remove(one)" />
              </v-list>
            </v-menu>
          </td>
        </tr>
      </tbody>
    </SheetTable>
    <v-switch
      v-if="owns && rules.data.value"
      :model-value="rules.data.value.secondFactor"
      label="Everybody needs a second factor"
      color="primary"
      hide-details
      density="compact"
      @update:model-value="setRules($event === true)"
    />
    <v-btn v-if="owns" color="primary" variant="flat" @click="inviting = true">
      Invite person
    </v-btn>
    <FormDialog
      v-model="inviting"
      title="Invite a person"
      action="Invite"
      :width="400"
      v-bind="dialog"
    >
      <p class="quiet">They choose their own password by a link that you send them.</p>
      <v-text-field v-bind="field('name')" label="Name" autocomplete="off" />
      <v-text-field
        v-bind="field('email')"
        label="E-mail address"
        type="email"
        autocomplete="off"
      />
      <v-select v-bind="field('role')" label="Role" :items="ROLE_WORDS" />
      <PartsField v-if="holdsPart(form.role)" v-bind="field('parts')" :parts="parts" />
    </FormDialog>
    <FormDialog
      v-model="changingRole"
      :title="`Role and part of ${changing?.name ?? ''}`"
      action="Save"
      :width="460"
      v-bind="change.dialog"
    >
      <v-select v-bind="change.field('role')" label="Role" :items="ROLE_WORDS" />
      <PartsField
        v-if="holdsPart(change.form.value.role)"
        v-bind="change.field('parts')"
        :parts="parts"
      />
    </FormDialog>
    <FormDialog
      v-model="asking"
      :title="`Second factor of ${taking?.name ?? ''}`"
      action="Take away"
      :width="440"
      @submit="takeFactor"
    >
      <p>
        {{ taking?.name }} then signs in with a password only, until they set up another one. It is
        for a phone and recovery codes that are lost; it cannot be undone.
      </p>
    </FormDialog>
    <DialogSheet v-model="showing" :title="`Link for ${made?.name ?? ''}`" :width="480">
      <p>
        Send this link to {{ made?.name }}. It is shown only once, works once, and is valid until
        {{ untilWhen }}.
      </p>
      <code data-address>{{ address }}</code>
      <template #actions>
        <v-btn color="primary" variant="flat" @click="copy">
          {{ copied ? 'Copied' : 'Copy link' }}
        </v-btn>
        <v-btn color="primary" @click="showing = false">Done</v-btn>
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
