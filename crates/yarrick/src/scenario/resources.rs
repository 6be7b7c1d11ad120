//! `[[resource]]`: what there is to gather and to pay with; and amounts of it.

use super::error::Diagnostic;
use super::named::Named;
use super::table::Table;
use super::value::as_number;
use crate::economy::{MAX_RESOURCES, Price, ResourceId, Stores};

/// The resources, by name.
pub(super) type Resources = Named<()>;

/// The most of a resource that a file gives.
const MOST: f64 = 1_000_000.0;

pub(super) fn read(resources: &mut Resources, table: Table<'_>) {
    let name = table.field("name").needed();
    if let Some(given) = name.name() {
        let context = table.context();
        if resources.all.len() < MAX_RESOURCES {
            resources.add(context, given, name.span.clone(), ());
        } else {
            let message = format!("at most {MAX_RESOURCES} resources are allowed");
            context.note(Diagnostic::new(name.span.clone(), message));
        }
    }
    table.finish();
}

/// A table of amounts under a key, such as `{ salt = 12 }`. `None` where it is unsound, which is noted.
pub(super) fn read_amounts(
    table: &Table<'_>,
    key: &'static str,
    resources: &Resources,
) -> Option<Price> {
    let like = "a table of amounts, like { salt = 12 }";
    let amounts = table.table_like(key, "amounts", like)?;
    let context = table.context();
    let mut is_sound = true;
    let mut price = Vec::new();
    for (name, at, value, span) in amounts.entries() {
        let resource = resources.position(name);
        if resource.is_none() {
            is_sound = false;
            if resources.all.is_empty() {
                let message = format!("there is no resource {name:?}: a [[resource]] declares one");
                context.note(Diagnostic::new(at, message));
            } else {
                context.note_unknown(&at, "resource", name, resources.known());
            }
        }
        let amount = as_number(value)
            .filter(|amount| (0.0..=MOST).contains(amount) && amount.fract() == 0.0);
        if amount.is_none() {
            is_sound = false;
            let message = format!("{name:?} must be a whole number from 0 to {MOST}");
            context.note(Diagnostic::new(span, message));
        }
        if let Some((resource, amount)) = resource.zip(amount) {
            price.push((ResourceId(resource as u8), amount as u32));
        }
    }
    is_sound.then(|| Price::of(&price))
}

/// What a side owns at the start.
pub(super) fn stores_of(price: &Price) -> Stores {
    let mut stores = Stores::default();
    stores.refund(price);
    stores
}
