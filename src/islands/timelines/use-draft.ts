/** A text that is saved when its field is left: what is being typed stays while everything around it comes anew. */
import type Joi from 'joi';
import { useState } from 'react';
import { messagesOf } from '../shared/form/joi-form';

interface Draft {
  readonly of: string;
  readonly text: string;
}

/** `of`: whose text it is; `save` answers whether it was taken. */
export function useDraft(of: string, value: string, form: Joi.StringSchema, save: (text: string) => Promise<boolean>) {
  const [draft, setDraft] = useState<Draft | null>(null);
  const own = draft?.of === of ? draft : null;
  const text = own?.text ?? value;
  const error = own ? messagesOf(form, own.text)[''] : undefined;
  const letGo = (saved: Draft) => setDraft((now) => (now === saved ? null : now));
  return {
    value: text,
    error,
    onChange: (event: { currentTarget: { value: string } }) => setDraft({ of, text: event.currentTarget.value }),
    onBlur: () => {
      if (!own || error) return;
      if (own.text === value) letGo(own);
      // What was not taken stays, to be tried again.
      else void save(own.text).then((done) => done && letGo(own));
    },
  };
}
