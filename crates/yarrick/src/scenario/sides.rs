//! `[[side]]`: who plays, with whom, and against whom.

use super::error::{Diagnostic, Span};
use super::named::Named;
use super::resources::{Resources, read_amounts, stores_of};
use super::table::{Context, Table};
use crate::economy::Stores;
use crate::world::{MAX_SIDES, Side, SideId};

/// A side as a file gives it: it may name others that come later.
pub(super) struct Draft {
    neutral: bool,
    allies: Vec<(String, Span)>,
    sharing: Vec<(String, Span)>,
    /// What it owns at the start.
    stores: Stores,
}

pub(super) fn read(drafts: &mut Named<Draft>, table: Table<'_>, resources: &Resources) {
    let field = table.field("name").needed();
    let neutral = table.field("neutral").or(false, |field| field.flag());
    let names = |key| {
        let names = table.field(key).or(Vec::new(), |field| field.names());
        let owned = |(name, span): (&str, Span)| (name.to_owned(), span);
        names.unwrap_or_default().into_iter().map(owned).collect()
    };
    let owns = table.field("stores").is_given();
    let stores = owns.then(|| read_amounts(&table, "stores", resources));
    let draft = Draft {
        stores: stores
            .flatten()
            .map_or_else(Stores::default, |price| stores_of(&price)),
        neutral: neutral.unwrap_or(false),
        allies: names("allies"),
        sharing: names("shares_control_with"),
    };
    if let Some(name) = field.name() {
        drafts.add(table.context(), name, field.span.clone(), draft);
    }
    table.finish();
}

/// What each side owns at the start.
pub(super) fn stores(drafts: Named<Draft>) -> Vec<Stores> {
    drafts.all.into_iter().map(|side| side.stores).collect()
}

/// Makes sides of the drafts, with all that is wrong noted.
pub(super) fn finish(drafts: &Named<Draft>, context: &Context<'_>, main: usize) -> Named<Side> {
    drafts.check_count(context, main, MAX_SIDES);
    let mut sides = Named::new("side");
    for (at, draft) in drafts.all.iter().enumerate() {
        let (name, span) = &drafts.names[at];
        let others = |names: &[(String, Span)]| {
            let other = |(other, span): &(String, Span)| {
                let found = drafts.position(other);
                match found {
                    None => context.note_unknown(span, "side", other, drafts.known()),
                    Some(same) if same == at => {
                        let message = format!("{name:?} cannot name itself here");
                        context.note(Diagnostic::new(span.clone(), message));
                    }
                    Some(_) => {}
                }
                found.map(|at| SideId(at as u8))
            };
            names.iter().filter_map(other).collect()
        };
        let side = Side {
            name: name.clone(),
            neutral: draft.neutral,
            allies: others(&draft.allies),
            shares_control_with: others(&draft.sharing),
        };
        sides.add(context, name, span.clone(), side);
    }
    sides
}
