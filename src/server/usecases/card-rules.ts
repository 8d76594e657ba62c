/** By which folders camera cards are known: everywhere, and in this house. */
import { STANDARD_CARD_RULES, type CardRule } from '../../core/media/card';
import { notFound, Problem } from '../errors/problem';
import type { Actor, House } from './use-case';

/** Rules by which cards are known, each with how many cards it finds on the shelves of the list. */
export interface CardRulesView {
  readonly standard: readonly (CardRule & { readonly cards: number })[];
  readonly own: readonly (CardRule & { readonly id: number; readonly cards: number })[];
}

export function cardRules({ catalogue }: House): CardRulesView {
  const own = catalogue.cardRules.own();
  const found = catalogue.cardRules.found([...STANDARD_CARD_RULES, ...own]);
  return {
    standard: STANDARD_CARD_RULES.map((rule, index) => ({ ...rule, cards: found[index]! })),
    own: own.map((rule, index) => ({ ...rule, cards: found[STANDARD_CARD_RULES.length + index]! })),
  };
}

export function addCardRule(house: House, _actor: Actor, rule: CardRule) {
  const isStandard = STANDARD_CARD_RULES.some(({ sign }) => sign.toLowerCase() === rule.sign.toLowerCase());
  const made = isStandard ? null : house.catalogue.cardRules.add(rule);
  if (!made) throw new Problem('card-rule-known', `Cards with ${rule.sign} are known already.`, 'Nothing needs to be added.');
  house.changed('cards');
  return { ...made, cards: house.catalogue.cardRules.found([made])[0]! };
}

export function removeCardRule(house: House, _actor: Actor, { id }: { readonly id: number }): void {
  if (!house.catalogue.cardRules.remove(id)) throw notFound('rule');
  house.changed('cards');
}
