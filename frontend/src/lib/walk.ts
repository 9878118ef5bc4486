import type { AnswerView, GimbalBalance } from '../api/schema.gen'

/** Where the answers at the step cards have led: the card that is up, what to do first, and the cards that hold. */
export interface Walked {
  /** None: every card holds. */
  at: number | null
  do: string
  held: readonly number[]
  mayPower: boolean
}

/** What every answer leads to came with the cards: they are walked without a net too. */
export function walked(gimbal: GimbalBalance, answers: readonly AnswerView[]): Walked {
  const held = new Set<number>()
  const next = (): number | null => gimbal.cards.find((c) => !held.has(c.number))?.number ?? null
  let at = next()
  let first = ''
  for (const answer of answers) {
    const lead = gimbal.onward.find((l) => l.card === answer.card && l.seen === answer.seen)
    // An answer to cards of another rig or order leads nowhere; what came before it stands.
    if (!lead || (lead.card !== at && !held.has(lead.card))) break
    if (!lead.lets_go.length) held.add(lead.card)
    for (const card of lead.lets_go) held.delete(card)
    at = lead.at ?? next()
    first = lead.do
  }
  const mayPower = gimbal.before_power.every((card) => held.has(card))
  return { at, do: first, held: [...held].sort((a, b) => a - b), mayPower }
}
