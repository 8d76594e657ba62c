/** Forms by the schemas of the API: what the server would refuse is told beside its field, in the same words. */
import { useForm, type UseFormReturnType } from '@mantine/form';
import type Joi from 'joi';

/** Messages by the path of their field. */
export function messagesOf(form: Joi.AnySchema, values: unknown): Record<string, string> {
  const { error } = form.validate(values, { convert: false, abortEarly: false });
  return Object.fromEntries((error?.details ?? []).map(({ path, message }) => [path.join('.'), message]));
}

/** What a form says of a text. */
export function wrongBy(form: Joi.StringSchema): (text: string) => string | undefined {
  return (text) => messagesOf(form, text)[''];
}

/** A form that is checked when a field is left, and when it is sent. */
export function useJoiForm<Values extends object>(form: Joi.ObjectSchema, initialValues: Values): UseFormReturnType<Values> {
  return useForm<Values>({ initialValues, validate: (values) => messagesOf(form, values), validateInputOnBlur: true });
}
