<script setup lang="ts">
import type { DimensionDetail, MemberDetail, MembersFile } from '@dravex/contract';
import { computed, ref, shallowRef, watch } from 'vue';
import { codeFrom } from '../actuals/code-from.ts';
import { useSession } from '../people/use-session.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import SettingsNav from '../settings/SettingsNav.vue';
import { inWords, request, sendFile } from '../shell/api.ts';
import ScopeBar from '../shell/ScopeBar.vue';
import CustomerAssignments from './CustomerAssignments.vue';
import MemberPanel from './MemberPanel.vue';

/** The ways to cut sales: their members as a tree, each to be changed, moved, merged. */
const plan = usePlan();
const session = useSession();
const planner = computed(() => session.roleIn(plan.workspaceId) === 'planner');
const { data, failure } = useAnswer([() => plan.tick, () => plan.savedAt], () =>
  request<DimensionDetail[]>('GET', plan.path('/dimensions')),
);
const chosenCode = ref('');
const chosen = computed(
  () => data.value?.find(({ code }) => code === chosenCode.value) ?? data.value?.[0],
);
const selectedId = ref(0);
const selected = computed(() => chosen.value?.members.find(({ id }) => id === selectedId.value));
const search = ref('');
watch(chosenCode, () => {
  selectedId.value = 0;
  search.value = '';
});

const depthOf = (members: readonly MemberDetail[], member: MemberDetail): number => {
  let depth = 0;
  for (let at = member.parent; at !== null; depth += 1) {
    at = members.find(({ id }) => id === at)?.parent ?? null;
  }
  return depth;
};
const rows = computed(() => {
  const members = chosen.value?.members ?? [];
  const wanted = search.value.trim().toLowerCase();
  return members
    .filter(({ code, name }) =>
      wanted === '' ? true : `${code} ${name}`.toLowerCase().includes(wanted),
    )
    .map((member) => ({ member, depth: wanted === '' ? depthOf(members, member) : 0 }));
});
const headline = computed(() => {
  const dimension = chosen.value;
  if (!dimension) return 'Dimensions';
  const unsold = dimension.members.filter(({ combinations }) => combinations === 0).length;
  const count = `${dimension.members.length} ${dimension.members.length === 1 ? 'member' : 'members'}`;
  return `${dimension.name} has ${count}${unsold > 0 ? `, ${unsold} of them never sold` : ''}`;
});

const busy = ref(false);
const problem = ref('');
const done = ref('');
async function saving(work: () => Promise<string>): Promise<boolean> {
  busy.value = true;
  problem.value = '';
  done.value = '';
  try {
    const text = await plan.save(work);
    await plan.reload();
    done.value = text;
    return true;
  } catch (error) {
    problem.value = inWords(error);
    return false;
  } finally {
    busy.value = false;
  }
}

const fresh = ref({ name: '', code: '', parent: '' });
async function add(): Promise<void> {
  const dimension = chosen.value;
  if (!dimension) return;
  const { name, code, parent } = fresh.value;
  const added = await saving(async () => {
    await request('POST', plan.path(`/dimensions/${dimension.code}/members`), {
      name,
      code: code || codeFrom(name),
      parent: parent === '' ? null : Number(parent),
    });
    return `${name} is there.`;
  });
  if (added) fresh.value = { name: '', code: '', parent: '' };
}

const own = ref({ name: '', first: '' });
const adding = ref(false);
async function addDimension(): Promise<void> {
  const { name, first } = own.value;
  const code = codeFrom(name).toLowerCase();
  const made = await saving(async () => {
    await request('POST', plan.path('/dimensions'), {
      code,
      name,
      first: { code: codeFrom(first), name: first },
    });
    return `${name} is there; all sales belong to ${first} until they are told apart.`;
  });
  if (!made) return;
  adding.value = false;
  chosenCode.value = code;
}

async function removeDimension(): Promise<void> {
  const dimension = chosen.value;
  if (!dimension) return;
  const removed = await saving(async () => {
    await request('DELETE', plan.path(`/dimensions/${dimension.code}`));
    return `${dimension.name} is deleted; Ctrl+Z brings it back.`;
  });
  if (removed) chosenCode.value = '';
}

const input = ref<HTMLInputElement>();
const brought = shallowRef<{ file: File; effect: MembersFile }>();
async function look(event: Event): Promise<void> {
  const [file] = (event.target as HTMLInputElement).files ?? [];
  if (input.value) input.value.value = '';
  const dimension = chosen.value;
  if (!file || !dimension) return;
  problem.value = '';
  try {
    const path = plan.path(`/dimensions/${dimension.code}/file`);
    brought.value = { file, effect: await sendFile<MembersFile>(path, file) };
  } catch (error) {
    problem.value = inWords(error);
  }
}
async function applyFile(): Promise<void> {
  const dimension = chosen.value;
  const sent = brought.value;
  if (!dimension || !sent) return;
  const path = plan.path(`/dimensions/${dimension.code}/file?apply=yes`);
  await saving(async () => {
    const { added, changed } = await sendFile<MembersFile>(path, sent.file);
    return `${added} members added, ${changed} changed.`;
  });
  brought.value = undefined;
}
</script>

<template>
  <section class="room">
    <ScopeBar :shows="[]" />
    <SettingsNav />
    <header class="room-head">
      <h1>{{ headline }}</h1>
      <p class="state">
        What sales can be cut by. Lines are those that count, groups with what lies below them.
      </p>
    </header>
    <div class="controls wrap" role="group" aria-label="Dimension">
      <button
        v-for="dimension in data ?? []"
        :key="dimension.code"
        type="button"
        class="chip"
        :aria-pressed="dimension.code === chosen?.code"
        @click="chosenCode = dimension.code"
      >
        {{ dimension.name }}
      </button>
      <button v-if="planner" type="button" class="chip" @click="adding = !adding">
        + a dimension of your own
      </button>
      <button
        v-if="planner && chosen && (data?.length ?? 0) > 1"
        type="button"
        class="chip"
        :disabled="busy"
        @click="removeDimension"
      >
        Delete {{ chosen.name }}
      </button>
    </div>
    <form v-if="adding" class="controls wrap" @submit.prevent="addDimension">
      <label class="inline">Name <input v-model="own.name" required maxlength="60" /></label>
      <label class="inline">
        First member, to which everything belongs
        <input v-model="own.first" required maxlength="60" />
      </label>
      <button class="plain" type="submit" :disabled="busy">Add the dimension</button>
    </form>
    <p v-if="failure" class="failure" role="alert">{{ failure }}</p>
    <p v-if="problem" class="failure" role="alert">{{ problem }}</p>
    <p v-if="done" class="good" role="status">{{ done }}</p>
    <div v-if="brought" class="brought" role="status">
      <p>
        {{ brought.file.name }}: {{ brought.effect.added }} members to add,
        {{ brought.effect.changed }} to change, {{ brought.effect.same }} the same.
      </p>
      <p v-for="wrong in brought.effect.problems.slice(0, 10)" :key="wrong.row" class="failure">
        Row {{ wrong.row }}: {{ wrong.message }}
      </p>
      <div class="controls">
        <button
          type="button"
          class="primary"
          :disabled="busy || brought.effect.problems.length > 0"
          @click="applyFile"
        >
          Apply it
        </button>
        <button type="button" class="plain" @click="brought = undefined">Leave it</button>
      </div>
    </div>
    <div v-if="chosen" class="halves">
      <div class="left">
        <div class="controls wrap">
          <input
            v-model="search"
            type="search"
            class="search"
            placeholder="find a member"
            aria-label="Find a member"
          />
          <template v-if="planner">
            <input
              ref="input"
              type="file"
              class="hidden-but-read"
              tabindex="-1"
              aria-label="File of members"
              accept=".csv,.txt,.xlsx,.json"
              @change="look"
            />
            <button type="button" class="chip" @click="input?.click()">
              Bring members by file
            </button>
          </template>
        </div>
        <div class="scroll">
          <table class="sheet-table" :aria-label="`Members of ${chosen.name}`">
            <thead>
              <tr>
                <th scope="col" class="words">Member</th>
                <th scope="col" class="words">Code</th>
                <th scope="col">Lines</th>
                <th scope="col" class="words">Valid</th>
                <th scope="col" class="words">Account</th>
              </tr>
            </thead>
            <tbody>
              <tr
                v-for="{ member, depth } in rows"
                :key="member.id"
                :class="{ on: member.id === selectedId }"
              >
                <td class="words" :style="{ paddingLeft: `${8 + depth * 18}px` }">
                  <button
                    type="button"
                    class="link"
                    :aria-expanded="member.id === selectedId"
                    @click="selectedId = member.id === selectedId ? 0 : member.id"
                  >
                    {{ member.name }}
                  </button>
                </td>
                <td class="words quiet">{{ member.code }}</td>
                <td>
                  {{
                    member.lines === 0 ? '–' : member.lines.toLocaleString(plan.workspace?.locale)
                  }}
                </td>
                <td class="words quiet">
                  {{ member.validFrom ? `from ${member.validFrom}` : '' }}
                  {{ member.validTo ? `to ${member.validTo}` : '' }}
                </td>
                <td class="words quiet">{{ member.account }}</td>
              </tr>
            </tbody>
          </table>
        </div>
        <form v-if="planner" class="controls wrap" aria-label="Add a member" @submit.prevent="add">
          <input
            v-model="fresh.name"
            required
            maxlength="120"
            placeholder="New member"
            aria-label="Name of the new member"
          />
          <input
            v-model="fresh.code"
            maxlength="60"
            placeholder="code, if not its name"
            aria-label="Code of the new member"
          />
          <select v-model="fresh.parent" aria-label="Below">
            <option value="">at the top</option>
            <option v-for="member in chosen.members" :key="member.id" :value="String(member.id)">
              below {{ member.name }}
            </option>
          </select>
          <button class="plain" type="submit" :disabled="busy">Add it</button>
        </form>
      </div>
      <MemberPanel
        v-if="selected"
        :key="selected.id"
        :dimension="chosen"
        :member="selected"
        :planner="planner"
        :busy="busy"
        :saving="saving"
        @gone="selectedId = 0"
      />
      <CustomerAssignments
        v-else
        :key="chosen.code"
        :dimension="chosen"
        :planner="planner"
        :busy="busy"
        :saving="saving"
      />
    </div>
  </section>
</template>

<style scoped>
.wrap {
  flex-wrap: wrap;
}
.inline {
  display: inline-flex;
  gap: 6px;
  align-items: center;
}
.halves {
  display: grid;
  grid-template-columns: minmax(0, 3fr) minmax(0, 2fr);
  gap: 28px;
  min-height: 0;
  flex: 1;
}
.left {
  display: flex;
  flex-direction: column;
  gap: 8px;
  min-height: 0;
}
.scroll {
  overflow: auto;
  min-height: 120px;
}
.search {
  width: 200px;
}
tr.on td {
  background: var(--harbour-soft);
}
.brought {
  display: grid;
  gap: 5px;
  padding: 8px 12px;
  background: var(--surface);
  border: 1px solid var(--line);
}
@media (max-width: 1100px) {
  .halves {
    grid-template-columns: 1fr;
    overflow: auto;
  }
}
</style>
