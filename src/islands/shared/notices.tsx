import { notifications } from '@mantine/notifications';
import { ApiError } from './api';

export function tell(title: string, message?: string): void {
  notifications.show({ title, message: message ?? '', autoClose: 5_000 });
}

export function tellError(error: unknown): void {
  const hint = error instanceof ApiError && error.hint ? ` ${error.hint}` : '';
  notifications.show({
    title: 'That did not work',
    message: `${error instanceof Error ? error.message : String(error)}${hint}`,
    color: 'red',
    autoClose: 12_000,
  });
}
