import { Button, TextInput } from '@mantine/core';
import { useQuery, useQueryClient } from '@tanstack/react-query';
import { cardRuleForm } from '../../core/forms/card-rule-form';
import { api } from '../shared/api';
import { askedOf } from '../shared/asked';
import { Dialog } from '../shared/Dialog';
import { Face } from '../shared/Face';
import { plural } from '../shared/figures';
import { useJoiForm } from '../shared/form/joi-form';
import { tellError } from '../shared/notices';

/** By which folders camera cards are known: everywhere, and in this house. */
export function CardRules({ opened, onClose }: { opened: boolean; onClose: () => void }) {
  const client = useQueryClient();
  const query = useQuery({ queryKey: ['card-rules'], queryFn: () => api.get('card-rules'), enabled: opened });
  const form = useJoiForm(cardRuleForm, { name: '', sign: '' });
  const attempt = async (work: () => Promise<unknown>): Promise<boolean> => {
    try {
      await work();
      await client.invalidateQueries();
      return true;
    } catch (error) {
      tellError(error);
      return false;
    }
  };
  const add = async () => {
    if (!form.validate().hasErrors && (await attempt(() => api.post('card-rules', form.values)))) form.reset();
  };
  return (
    <Dialog opened={opened} onClose={onClose} title="How camera cards are known" size="lg">
      <p className="tight-above">A card stays whole, with every file and folder on it. A folder is a card when these folders lie in it:</p>
      <Face asked={askedOf(query)} lines={8}>
        {query.data && (
          <table className="card-rules">
            <tbody>
              {[...query.data.standard, ...query.data.own].map((rule) => (
                <tr key={rule.sign}>
                  <td className="mono">{rule.sign}</td>
                  <td>{rule.name}</td>
                  <td className="soft">{rule.cards === 0 ? 'none here' : `${plural(rule.cards, 'card')} here`}</td>
                  <td>
                    {'id' in rule && (
                      <Button
                        size="compact-xs"
                        variant="default"
                        aria-label={`Remove the rule ${rule.sign}`}
                        onClick={() => void attempt(() => api.remove(`card-rules/${rule.id}`))}
                      >
                        Remove
                      </Button>
                    )}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        )}
      </Face>
      <p className="soft after-fields">In a rule of your own # stands for a digit, ? for any sign, * for any number of signs.</p>
      <form
        className="card-rule-form"
        onSubmit={(event) => {
          event.preventDefault();
          void add();
        }}
      >
        <TextInput label="Folders" placeholder="RECORDER/TAKE###" classNames={{ input: 'mono-input' }} {...form.getInputProps('sign')} />
        <TextInput label="What it is" placeholder="Sound recorder of unit B" {...form.getInputProps('name')} />
        <Button type="submit">Add this rule</Button>
      </form>
    </Dialog>
  );
}
