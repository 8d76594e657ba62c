import { Button } from '@mantine/core';
import { TOKEN_WORDS, TOKENS } from '../../core/scheme/pattern';
import { Menu } from './Menu';

/** What may stand in a pattern of names, to be put in. */
export function Tokens({ onToken }: { onToken: (token: string) => void }) {
  return (
    <Menu position="bottom-end">
      <Menu.Target>
        <Button size="xs" variant="default" title="What stands for something of the file">
          {'{ }'}
        </Button>
      </Menu.Target>
      <Menu.Dropdown mah={340} className="scrolls">
        {TOKENS.map((token) => (
          <Menu.Item key={token} onClick={() => onToken(token === 'n' ? '{n:4}' : `{${token}}`)}>
            <span className="mono">{token === 'n' ? '{n:4}' : `{${token}}`}</span> <span className="soft">{TOKEN_WORDS[token]}</span>
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}
