//! `[[entry]]`, `[[goal]]`, `[assault]` and `[[wave]]`: what comes, where, when, and what it makes for.

use super::error::{Diagnostic, Span};
use super::named::Named;
use super::resources::{Resources, read_amounts};
use super::roster::Known;
use super::script::MAX_SECONDS;
use super::table::{Context, Field, Table};
use super::ways::note_off_map;
use crate::geom::Vec2;
use crate::ground::{ClearanceMap, Ground, Patch};
use crate::route::footing_or_free;
use crate::waves::{AssaultPlan, Batch, MAX_BATCHES_A_WAVE, MAX_UNITS_A_WAVE, MAX_WAVES, Wave};
use crate::world::{
    AssaultSetup, Entry, GoalArea, Kind, LeakCost, MAX_AREA_M, MAX_AREAS, Side, SideId,
};
use core::cell::RefCell;
use std::collections::BTreeMap;

/// Entries and goals, by name. `None` is one that is unsound.
pub(super) struct Areas {
    pub(super) entries: Named<Option<Entry>>,
    pub(super) goals: Named<Option<GoalArea>>,
}

impl Areas {
    pub(super) fn new() -> Areas {
        Areas {
            entries: Named::new("entry"),
            goals: Named::new("goal"),
        }
    }

    pub(super) fn read_entry(&mut self, table: Table<'_>, ground: Option<&Ground>) {
        let name = table.field("name").needed();
        let at = read_middle(&table, ground);
        let spread = read_metres(&table.field("spread"), 0.0);
        let facing = table.field("facing").or(0.0, |field| {
            field.number(-360.0..=360.0, "degrees anticlockwise from east")
        });
        let entry = || {
            Some(Entry {
                name: name.name()?.to_owned(),
                at: at?,
                spread_m: spread?,
                facing: facing?.to_radians() as f32,
            })
        };
        let entry = entry();
        if let Some(given) = name.name() {
            let span = name.span.clone();
            self.entries.add(table.context(), given, span, entry);
        }
        table.finish();
    }

    pub(super) fn read_goal(&mut self, table: Table<'_>, ground: Option<&Ground>) {
        let name = table.field("name").needed();
        let at = read_middle(&table, ground);
        let radius = read_metres(&table.field("radius"), 1.0);
        let goal = || {
            Some(GoalArea {
                name: name.name()?.to_owned(),
                at: at?,
                radius_m: radius?,
            })
        };
        let goal = goal();
        if let Some(given) = name.name() {
            let span = name.span.clone();
            self.goals.add(table.context(), given, span, goal);
        }
        table.finish();
    }
}

fn read_middle(table: &Table<'_>, ground: Option<&Ground>) -> Option<Vec2> {
    let field = table.field("at").needed();
    let at = field.is_given().then(|| field.point()).flatten()?;
    let ground = ground?;
    if !ground.bounds().contains(at) {
        note_off_map(table.context(), &field.span, ground);
        return None;
    }
    Some(at)
}

fn read_metres(field: &Field<'_>, default: f32) -> Option<f32> {
    let most = f64::from(MAX_AREA_M);
    let metres = field.or(f64::from(default), |field| {
        field.number(0.0..=most, "metres")
    });
    metres.map(|metres| metres as f32)
}

/// What an assault is read with.
pub(super) struct Plan<'a> {
    pub(super) sides: &'a Named<Side>,
    pub(super) kinds: &'a Named<Known>,
    pub(super) resources: &'a Resources,
    pub(super) areas: &'a Areas,
    pub(super) ground: Option<&'a Ground>,
    pub(super) ticks_per_second: u32,
    /// The ground as the kinds that come find it, as far as that was needed.
    pub(super) clearances: RefCell<BTreeMap<usize, ClearanceMap>>,
}

/// What `[assault]` says.
pub(super) struct Head {
    side: Option<SideId>,
    first_after: u32,
    lull: u32,
    leak_cost: Option<LeakCost>,
    span: Span,
}

impl Plan<'_> {
    /// A time in a file, in ticks.
    fn ticks(&self, field: &Field<'_>, default: f64) -> Option<u32> {
        let seconds = field.or(default, |field| field.number(0.0..=MAX_SECONDS, "seconds"))?;
        Some((seconds * f64::from(self.ticks_per_second)).round() as u32)
    }

    pub(super) fn read_head(&self, table: Table<'_>) -> Option<Head> {
        let context = table.context();
        let side = self.sides.named_by(context, &table.field("side").needed());
        let first_after = self.ticks(&table.field("first_after"), 0.0);
        let lull = self.ticks(&table.field("lull"), 0.0);
        let cost = table.field("leak_cost");
        let payer = table.field("leak_paid_by");
        let leak_cost = if cost.is_given() {
            let price = read_amounts(&table, "leak_cost", self.resources);
            let payer = self.sides.named_by(context, &payer.needed());
            let cost = price.zip(payer).map(|(price, payer)| LeakCost {
                side: SideId(payer as u8),
                price,
            });
            cost.map(Some)
        } else {
            if payer.is_given() {
                payer.note("is of no use without a \"leak_cost\"");
            }
            Some(None)
        };
        let span = table.span().clone();
        table.finish();
        Some(Head {
            side: side.map(|side| SideId(side as u8)),
            first_after: first_after?,
            lull: lull?,
            leak_cost: leak_cost?,
            span,
        })
    }

    pub(super) fn read_wave(&self, table: Table<'_>) -> Option<Wave> {
        let span = table.span().clone();
        let is_given = table.field("batch").needed().is_given();
        let tables = if is_given {
            table.tables("batch", "a batch")
        } else {
            Vec::new()
        };
        let count = tables.len();
        let batches: Option<Vec<Batch>> = tables
            .into_iter()
            .map(|table| self.read_batch(table))
            .collect();
        let context = table.context();
        let wave = batches.map(|batches| Wave { batches });
        if let Some(wave) = &wave {
            let units = wave.count();
            let message = match (count, units) {
                // That there is no batch has been said.
                (0, _) | (_, 0) if is_given => {
                    Some("a wave of nothing: it is over as it begins".to_owned())
                }
                (MAX_BATCHES_A_WAVE.., _) if count > MAX_BATCHES_A_WAVE => Some(format!(
                    "a wave has at most {MAX_BATCHES_A_WAVE} batches, not {count}"
                )),
                (_, units) if units > MAX_UNITS_A_WAVE => Some(format!(
                    "a wave has at most {MAX_UNITS_A_WAVE} units, not {units}"
                )),
                _ => None,
            };
            if let Some(message) = message {
                context.note(Diagnostic::new(span, message));
            }
        }
        table.finish();
        wave
    }

    fn read_batch(&self, table: Table<'_>) -> Option<Batch> {
        let context = table.context();
        let kind = self.kinds.named_by(context, &table.field("kind").needed());
        let count = table
            .field("count")
            .or(1, |field| field.whole(1..=u64::from(MAX_UNITS_A_WAVE)));
        let delay = self.ticks(&table.field("delay"), 0.0);
        let spacing = self.ticks(&table.field("spacing"), 0.0);
        let entry = pick(&self.areas.entries, &table, "entry");
        let goal = pick(&self.areas.goals, &table, "goal");
        if let (Some(kind), Some(entry), Some(goal)) = (kind, entry, goal) {
            self.check_way(&table, kind, (entry, goal));
        }
        table.finish();
        Some(Batch {
            kind: kind? as u16,
            count: count? as u32,
            delay: delay?,
            spacing: spacing?,
            entry: entry? as u16,
            goal: goal? as u16,
        })
    }

    /// Notes it if the kind finds no room at the entry, or no way from there to the goal.
    fn check_way(&self, table: &Table<'_>, kind: usize, (entry, goal): (usize, usize)) {
        let (number, known) = (kind, &self.kinds.all[kind]);
        let areas = self.areas.entries.all[entry]
            .as_ref()
            .zip(self.areas.goals.all[goal].as_ref());
        let (Some((entry, goal)), Some(ground)) = (areas, self.ground.filter(|_| known.has_body))
        else {
            return;
        };
        let kind: &Kind = &known.kind;
        let context = table.context();
        let span = |key| {
            let field = table.field(key);
            let given = field.is_given();
            if given {
                field.span
            } else {
                table.span().clone()
            }
        };
        let name = &kind.name;
        let Some(from) = somewhere(ground, kind, entry.at, entry.spread_m) else {
            let message = format!(
                "{name:?} finds no room at the entry {:?}: all ground there is closed to it",
                entry.name
            );
            context.note(Diagnostic::new(span("entry"), message));
            return;
        };
        let reach_m = goal.radius_m + kind.body.radius_m;
        if !self.reaches(ground, number, from, (goal.at, reach_m)) {
            let message = format!(
                "no way leads {name:?} from the entry {:?} to the goal {:?}",
                entry.name, goal.name
            );
            context.note(Diagnostic::new(span("goal"), message));
        }
    }

    /// Whether a way leads a kind from a place to one within `reach_m` metres of a point, on the bare map.
    fn reaches(
        &self,
        ground: &Ground,
        kind: usize,
        from: Vec2,
        (to, reach_m): (Vec2, f32),
    ) -> bool {
        let body = &self.kinds.all[kind].kind.body;
        let mut known = self.clearances.borrow_mut();
        let clearance = known
            .entry(kind)
            .or_insert_with(|| ClearanceMap::for_gait(ground, body.gait, body.radius_m));
        let footing = footing_or_free(ground, clearance, body.radius_m, from);
        let Some(region) = footing.and_then(|footing| clearance.region(footing.cell)) else {
            return false;
        };
        // A body need not stand in the middle of a cell.
        let reach_m = reach_m + ground.cell_m() * 0.5;
        let reach = Vec2::splat(reach_m);
        let (low, high) = (
            ground.nearest_cell(to - reach),
            ground.nearest_cell(to + reach),
        );
        Patch::between(low, high).cells().any(|cell| {
            let there = clearance.region(cell);
            let leads = |there| clearance.leads_to(region, there);
            ground.centre(cell).distance(to) <= reach_m && there.is_some_and(leads)
        })
    }

    /// Puts the parts together. Notes what is missing.
    pub(super) fn finish(
        &self,
        head: Option<Option<Head>>,
        waves: Vec<Option<Wave>>,
        context: &Context<'_>,
        main: Span,
    ) -> Option<Option<AssaultSetup>> {
        let has_waves = !waves.is_empty();
        let waves: Option<Vec<Wave>> = waves.into_iter().collect();
        let Some(head) = head else {
            if has_waves {
                let message = "there are waves, but no [assault] says whose they are";
                context.note(Diagnostic::new(main, message));
            }
            return Some(None);
        };
        let head = head?;
        let note = |message: String| context.note(Diagnostic::new(head.span.clone(), message));
        if !has_waves {
            note("an assault needs at least one [[wave]]".to_owned());
        }
        let waves = waves?;
        if waves.len() > MAX_WAVES {
            note(format!("an assault has at most {MAX_WAVES} waves"));
        }
        for (what, count) in [
            ("entry", self.areas.entries.all.len()),
            ("goal", self.areas.goals.all.len()),
        ] {
            if count == 0 {
                note(format!("an assault needs at least one [[{what}]]"));
            } else if count > MAX_AREAS {
                note(format!("an assault has at most {MAX_AREAS} of [[{what}]]"));
            }
        }
        Some(Some(AssaultSetup {
            side: head.side?,
            plan: AssaultPlan {
                first_after: head.first_after,
                lull: head.lull,
                waves,
            },
            entries: self
                .areas
                .entries
                .all
                .iter()
                .cloned()
                .collect::<Option<_>>()?,
            goals: self
                .areas
                .goals
                .all
                .iter()
                .cloned()
                .collect::<Option<_>>()?,
            leak_cost: head.leak_cost,
        }))
    }
}

/// The entry or goal that a batch names, or the only one that there is.
fn pick<T>(areas: &Named<T>, table: &Table<'_>, key: &'static str) -> Option<usize> {
    let field = table.field(key);
    if !field.is_given() && areas.all.len() == 1 {
        return Some(0);
    }
    // With none at all, that is noted once.
    if areas.all.is_empty() && !field.is_given() {
        return None;
    }
    areas.named_by(table.context(), &field.needed())
}

/// A place within a disc where a body of a kind fits on the bare map: its middle, or that of one of its cells.
fn somewhere(ground: &Ground, kind: &Kind, at: Vec2, spread_m: f32) -> Option<Vec2> {
    let view = ground.view(kind.body.gait);
    let is_clear = |place: &Vec2| view.disc_is_clear(*place, kind.body.radius_m);
    if is_clear(&at) {
        return Some(at);
    }
    let reach = Vec2::splat(spread_m);
    let (low, high) = (
        ground.nearest_cell(at - reach),
        ground.nearest_cell(at + reach),
    );
    let cells = Patch::between(low, high).cells();
    let places = cells.map(|cell| ground.centre(cell));
    let within = places.filter(|place| place.distance(at) <= spread_m);
    within.into_iter().find(is_clear)
}
