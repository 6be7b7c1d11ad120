//! `[[click]]`: what a click on something means to whom, before the rules that always hold.

use super::table::Table;
use crate::world::{Ability, Aspect, ContextRule, Verb};

pub(super) fn read(table: Table<'_>) -> Option<ContextRule> {
    let on = table.field("on").needed().choice(&Aspect::WORDS);
    let who = table.field("who");
    let who = if who.is_given() {
        who.choice(&Ability::WORDS).map(Some)
    } else {
        Some(None)
    };
    let verb = table.field("order").needed().choice(&Verb::WORDS);
    table.finish();
    Some(ContextRule {
        on: on?,
        who: who?,
        verb: verb?,
    })
}
