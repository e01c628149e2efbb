import { expect } from 'chai';
import { nextTick, ref } from 'vue';
import { useDraft } from './use-draft.ts';

describe('a form that holds what was typed', () => {
  const made = () => {
    const of = ref('listPrice');
    const known = ref('108.12');
    const draft = useDraft(
      () => of.value,
      () => ({ value: known.value, note: '' }),
    );
    return { of, known, draft };
  };

  it('takes in what arrives while nobody has touched it', async () => {
    const { known, draft } = made();
    known.value = '110';
    await nextTick();
    expect(draft.form.value.value).to.equal('110');
  });

  it('keeps what was typed when something arrives', async () => {
    const { known, draft } = made();
    draft.form.value.value = '59';
    known.value = '110';
    await nextTick();
    expect(draft.form.value.value).to.equal('59');
  });

  it('begins anew for another thing', async () => {
    const { of, draft } = made();
    draft.form.value.value = '59';
    of.value = 'discount';
    await nextTick();
    expect(draft.form.value.value).to.equal('108.12');
  });

  it('begins anew when what was sent is kept', () => {
    const { draft } = made();
    draft.form.value.note = 'four regions';
    draft.sending()();
    expect(draft.form.value.note).to.equal('');
  });

  it('keeps what was typed for another thing while the one before was being kept', async () => {
    const { of, draft } = made();
    draft.form.value.value = '100';
    const kept = draft.sending();
    of.value = 'discount';
    await nextTick();
    draft.form.value.value = '2';
    kept();
    await nextTick();
    expect(draft.form.value.value).to.equal('2');
  });

  it('keeps what was typed on while it was being kept', () => {
    const { draft } = made();
    draft.form.value.note = 'four';
    const kept = draft.sending();
    draft.form.value.note = 'four regions';
    kept();
    expect(draft.form.value.note).to.equal('four regions');
  });
});
