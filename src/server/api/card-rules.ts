/** By which folders camera cards are known: everywhere, and in this house. */
import { cardRuleForm } from '../../core/forms/card-rule-form';
import { STANDARD_CARD_RULES } from '../../core/media/card';
import { endpoint, endpointWithBody } from './endpoint';
import { notFound, Problem } from './problem';
import type { CardRulesView } from './views';

export const listCardRules = endpoint(({ house }): CardRulesView => {
  const own = house.catalogue.cardRules.own();
  const found = house.catalogue.cardRules.found([...STANDARD_CARD_RULES, ...own]);
  return {
    standard: STANDARD_CARD_RULES.map((rule, index) => ({ ...rule, cards: found[index]! })),
    own: own.map((rule, index) => ({ ...rule, cards: found[STANDARD_CARD_RULES.length + index]! })),
  };
});

export const addCardRule = endpointWithBody(cardRuleForm, ({ house, body }) => {
  const isStandard = STANDARD_CARD_RULES.some(({ sign }) => sign.toLowerCase() === body.sign.toLowerCase());
  const made = isStandard ? null : house.catalogue.cardRules.add(body);
  if (!made) throw new Problem(409, 'card-rule-known', `Cards with ${body.sign} are known already.`, 'Nothing needs to be added.');
  house.tell({ type: 'changed' });
  return { ...made, cards: house.catalogue.cardRules.found([made])[0]! };
});

export const removeCardRule = endpoint(({ house, params }) => {
  if (!house.catalogue.cardRules.remove(Number(params.rule))) throw notFound('rule');
  house.tell({ type: 'changed' });
});
