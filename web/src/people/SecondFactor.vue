<script setup lang="ts">
import { sessionOperations, type NewFactor } from '@dravex/contract';
import { correction, generate } from 'lean-qr';
import { computed, ref } from 'vue';
import DialogSheet from '../kit/DialogSheet.vue';
import FormDialog from '../kit/FormDialog.vue';
import { call } from '../shell/client.ts';
import { useForm } from '../writing/use-form.ts';
import { useSession } from './use-session.ts';

/** One's own second factor: set up with an authenticator, and taken away. */
const session = useSession();
const has = computed(() => session.session?.secondFactor ?? false);

const beginning = ref(false);
const factor = ref<NewFactor>();
const begin = useForm({
  fresh: () => ({ password: '' }),
  schema: sessionOperations.beginSecondFactor.body,
  send: async (body) => {
    factor.value = await call(sessionOperations.beginSecondFactor, {}, body);
  },
  done: () => {
    beginning.value = false;
    confirming.value = true;
  },
});
const confirming = ref(false);
const codes = ref<readonly string[]>([]);
const confirm = useForm({
  fresh: () => ({ code: '' }),
  schema: sessionOperations.confirmSecondFactor.body,
  send: async (body) => {
    const answer = await call(sessionOperations.confirmSecondFactor, {}, body);
    codes.value = answer.codes;
    await session.refresh();
  },
  done: () => {
    confirming.value = false;
    factor.value = undefined;
  },
});
/** The address of the factor as a picture of dark squares: a path within a square of its size. */
const picture = computed(() => {
  if (!factor.value) return undefined;
  const code = generate(factor.value.uri, { minCorrectionLevel: correction.M });
  let path = '';
  for (let y = 0; y < code.size; y += 1) {
    for (let x = 0; x < code.size; x += 1) if (code.get(x, y)) path += `M${x} ${y}h1v1h-1z`;
  }
  return { size: code.size, path };
});
const showsCodes = computed({
  get: () => codes.value.length > 0,
  set: (open) => {
    if (!open) codes.value = [];
  },
});
const copied = ref(false);
async function copy(): Promise<void> {
  await navigator.clipboard.writeText(codes.value.join('\n'));
  copied.value = true;
}

const dropping = ref(false);
const drop = useForm({
  fresh: () => ({ password: '', code: '' }),
  schema: sessionOperations.dropSecondFactor.body,
  send: async (body) => {
    await call(sessionOperations.dropSecondFactor, {}, body);
    await session.refresh();
  },
  done: () => (dropping.value = false),
});
</script>

<template>
  <section aria-labelledby="factor-title">
    <h2 id="factor-title">Second factor</h2>
    <p v-if="has">Signing in takes your password and a code from your authenticator.</p>
    <p v-else class="quiet">
      With a second factor, signing in takes a code from an authenticator on your phone as well.
    </p>
    <v-btn v-if="has" color="primary" @click="dropping = true">Turn off second factor</v-btn>
    <v-btn v-else color="primary" @click="beginning = true">Set up second factor</v-btn>

    <FormDialog
      v-model="beginning"
      title="Set up second factor"
      action="Continue"
      :width="360"
      v-bind="begin.dialog"
    >
      <v-text-field
        v-bind="begin.field('password')"
        label="Current password"
        type="password"
        autocomplete="current-password"
      />
    </FormDialog>
    <FormDialog
      v-model="confirming"
      title="Add it to your authenticator"
      action="Turn on"
      :width="400"
      v-bind="confirm.dialog"
    >
      <p>Scan this with your authenticator, or type the secret into it.</p>
      <svg
        v-if="picture"
        class="picture"
        :viewBox="`-2 -2 ${picture.size + 4} ${picture.size + 4}`"
        role="img"
        aria-label="QR code of the second factor"
      >
        <path :d="picture.path" />
      </svg>
      <code data-secret>{{ factor?.secret }}</code>
      <v-text-field
        v-bind="confirm.field('code')"
        label="Code that it shows now"
        inputmode="numeric"
        autocomplete="one-time-code"
      />
    </FormDialog>
    <DialogSheet v-model="showsCodes" title="Recovery codes" :width="400">
      <p>
        Keep these where you find them without your phone. Each signs you in once in place of a
        code. They are shown only now.
      </p>
      <ul class="codes">
        <li v-for="code in codes" :key="code">
          <code>{{ code }}</code>
        </li>
      </ul>
      <template #actions>
        <v-btn color="primary" variant="flat" @click="copy">
          {{ copied ? 'Copied' : 'Copy codes' }}
        </v-btn>
        <v-btn color="primary" @click="showsCodes = false">Done</v-btn>
      </template>
    </DialogSheet>
    <FormDialog
      v-model="dropping"
      title="Turn off second factor"
      action="Turn off"
      :width="360"
      v-bind="drop.dialog"
    >
      <v-text-field
        v-bind="drop.field('password')"
        label="Current password"
        type="password"
        autocomplete="current-password"
      />
      <v-text-field
        v-bind="drop.field('code')"
        label="Code, or a recovery code"
        autocomplete="one-time-code"
      />
    </FormDialog>
  </section>
</template>

<style scoped>
section {
  display: grid;
  gap: 6px;
  justify-items: start;
}
.picture {
  width: 200px;
  background: #fff;
  fill: #000;
  justify-self: center;
}
.codes {
  columns: 2;
  list-style: none;
  padding: 0;
}
</style>
