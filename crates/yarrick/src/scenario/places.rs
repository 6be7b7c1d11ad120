//! `[[place]]` and `[[leg]]`: a waypoint graph, as a designer draws it.

use super::error::{Diagnostic, Span};
use super::named::Named;
use super::table::{Context, Table};
use super::ways::note_off_map;
use crate::ground::Ground;
use crate::route::{Leg, MAX_LEG_COST_M, Waypoint, Waypoints};

/// The dearest a leg may be, and the cheapest.
const COSTS_M: core::ops::RangeInclusive<f64> = 0.01..=MAX_LEG_COST_M as f64;

/// The places and legs of a scenario.
pub(super) struct Drawn {
    places: Named<Waypoint>,
    legs: Vec<Leg>,
    first_leg: Option<Span>,
}

impl Drawn {
    pub(super) fn new() -> Drawn {
        Drawn {
            places: Named::new("place"),
            legs: Vec::new(),
            first_leg: None,
        }
    }

    pub(super) fn read_place(&mut self, table: Table<'_>, ground: Option<&Ground>) {
        let context = table.context();
        let name = table.field("name").needed();
        let at = table.field("at").needed();
        let point = at.is_given().then(|| at.point()).flatten();
        if let (Some(point), Some(ground)) = (point, ground)
            && ground.cell_at(point).is_none()
        {
            note_off_map(context, &at.span, ground);
        }
        if let Some(given) = name.name() {
            let place = Waypoint {
                name: given.to_owned(),
                // Where it lies nowhere that is noted, and legs that name it are in order.
                at: point.unwrap_or_default(),
            };
            self.places.add(context, given, name.span.clone(), place);
        }
        table.finish();
    }

    /// All places must have been read before.
    pub(super) fn read_leg(&mut self, table: Table<'_>) {
        let context = table.context();
        let end = |key| {
            let field = table.field(key).needed();
            field
                .is_given()
                .then(|| self.places.named_by(context, &field))
        };
        let ends = (end("from").flatten(), end("to").flatten());
        let cost = table.field("cost");
        let cost_m = if cost.is_given() {
            cost.number(COSTS_M, "metres").map(|cost| cost as f32)
        } else {
            None
        };
        let one_way = table.field("one_way").or(false, |field| field.flag());
        self.first_leg.get_or_insert(table.span().clone());
        if let (Some(from), Some(to)) = ends {
            self.legs.push(Leg {
                from: from as u32,
                to: to as u32,
                cost_m,
                one_way: one_way.unwrap_or(false),
            });
            if from == to {
                let message = "this leg leads from a place to itself";
                context.note(Diagnostic::new(table.span().clone(), message.to_owned()));
            }
        }
        table.finish();
    }

    /// The graph; `None` where no places are drawn.
    pub(super) fn finish(self, context: &Context<'_>) -> Option<Waypoints> {
        if self.places.all.is_empty() {
            return None;
        }
        let span = self
            .first_leg
            .or(self.places.names.first().map(|first| first.1.clone()));
        match Waypoints::new(self.places.all, self.legs) {
            Ok(waypoints) => Some(waypoints),
            Err(error) => {
                let note = |span| context.note(Diagnostic::new(span, error.to_string()));
                span.map(note);
                None
            }
        }
    }
}
