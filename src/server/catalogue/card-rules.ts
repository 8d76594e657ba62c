/** Rules of the house for what is a camera card, beside the standard ones. */
import { Cards, STANDARD_CARD_RULES, type CardRule } from '../../core/media/card';
import { placeKey } from '../../core/media/item';
import type { Db } from './db';

export interface OwnCardRule extends CardRule {
  readonly id: number;
}

export class CardRules {
  constructor(private readonly db: Db) {}

  own(): OwnCardRule[] {
    return this.db.prepare('SELECT id, name, sign FROM card_rules ORDER BY name, id').all() as OwnCardRule[];
  }

  /** Cards as this house knows them. */
  cards(): Cards {
    return new Cards([...STANDARD_CARD_RULES, ...this.own()]);
  }

  /** Null where the house has a rule of this sign. */
  add({ name, sign }: CardRule): OwnCardRule | null {
    const { changes, lastInsertRowid } = this.db.prepare('INSERT INTO card_rules (name, sign) VALUES (?, ?) ON CONFLICT DO NOTHING').run(name, sign);
    return changes === 0 ? null : { id: Number(lastInsertRowid), name, sign };
  }

  /** False when there is none. */
  remove(id: number): boolean {
    return this.db.prepare('DELETE FROM card_rules WHERE id = ?').run(id).changes > 0;
  }

  /** How many cards each of these rules finds among what stands on the shelves. */
  found(rules: readonly CardRule[]): number[] {
    const folders = this.db
      .prepare('SELECT DISTINCT shelf_id, folder FROM items WHERE gone_at IS NULL AND shelf_id IN (SELECT id FROM shelves WHERE retired_at IS NULL)')
      .raw()
      .all() as [string, string][];
    const any = new Cards(rules);
    const onCards = folders.filter(([, folder]) => any.around(`${folder}/x`) !== null);
    return rules.map((rule) => {
      const only = new Cards([rule]);
      const roots = onCards.flatMap(([shelfId, folder]) => {
        const card = only.around(`${folder}/x`);
        return card ? [placeKey({ shelfId, path: card.root })] : [];
      });
      return new Set(roots).size;
    });
  }
}
