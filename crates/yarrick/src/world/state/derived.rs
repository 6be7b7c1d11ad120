//! What is worked out from the rest of the state, and never saved.

use super::contest::RunningAssault;
use super::ground_digest::GroundDigest;
use super::rules::Rules;
use super::ways::WaysLeft;
use crate::drill::Program;
use crate::ground::{ClearanceMap, GaitId, Ground};
use crate::world::ids::{SideId, UnitId};
use crate::world::kind::{Body, Kind};
use crate::world::sides::Stances;
use std::collections::{BTreeMap, BTreeSet};
use std::sync::Arc;

/// What is worked out from the rest of the state.
#[derive(Clone, Debug, Default)]
pub(crate) struct Derived {
    /// The ground as bodies find it, one for each class of body that the kinds need.
    pub(crate) clearances: Vec<ClearanceMap>,
    /// Which clearance map each kind uses.
    pub(crate) clearance_of: Vec<u16>,
    pub(crate) stances: Stances,
    /// The radius of the widest disc that others give way to, in metres.
    pub(crate) widest: f32,
    /// The height of the tallest kind, and how far the body of the largest reaches; in metres.
    pub(crate) tallest: f32,
    pub(crate) farthest: f32,
    /// What is left to the goals of the assault, where a weapon asks for it.
    pub(crate) ways: Vec<WaysLeft>,
    /// The drills, shared with those that run them.
    pub(crate) program: Arc<Program>,
    /// The buildings that close ground or will, and the depots that stand.
    pub(crate) buildings: BTreeSet<UnitId>,
    pub(crate) depots: BTreeSet<UnitId>,
    /// The units that have taken a place on the rim of another, by that.
    pub(crate) berths: BTreeMap<UnitId, Vec<UnitId>>,
    pub(crate) rules_digest: u64,
    pub(crate) assault_digest: u64,
    pub(crate) ground_digest: GroundDigest,
}

impl Derived {
    /// Works everything out. Costs a few passes over the map for each class of body that the kinds need.
    ///
    /// # Errors
    /// The side that another names, and that does not exist.
    pub(crate) fn new(
        rules: &Rules,
        ground: &Ground,
        assault: Option<&RunningAssault>,
    ) -> Result<Derived, SideId> {
        let stances = Stances::new(&rules.sides)?;
        let mut classes: Vec<(GaitId, u32)> = Vec::new();
        let mut clearances = Vec::new();
        let mut clearance_of = Vec::with_capacity(rules.kinds.len());
        for kind in &rules.kinds {
            let class = (
                kind.body.gait,
                ClearanceMap::class_of(ground, kind.body.radius_m),
            );
            let known = classes.iter().position(|known| *known == class);
            let at = known.unwrap_or_else(|| {
                classes.push(class);
                clearances.push(ClearanceMap::for_gait(
                    ground,
                    kind.body.gait,
                    kind.body.radius_m,
                ));
                clearances.len() - 1
            });
            clearance_of.push(at as u16);
        }
        let most = |of: fn(&Kind) -> f32| rules.kinds.iter().map(of).fold(0.0, f32::max);
        let ways = assault.map_or_else(Vec::new, |running| {
            let waves = running.assault.plan().waves.iter();
            let kinds = waves.flat_map(|wave| wave.batches.iter().map(|batch| batch.kind));
            let mut used: Vec<u16> = kinds
                .filter_map(|kind| clearance_of.get(usize::from(kind)).copied())
                .collect();
            used.sort_unstable();
            used.dedup();
            WaysLeft::all(rules, ground, &running.goals, (&clearances, &used))
        });
        Ok(Derived {
            ways,
            program: Arc::new(rules.program.clone()),
            buildings: BTreeSet::new(),
            depots: BTreeSet::new(),
            berths: BTreeMap::new(),
            clearances,
            clearance_of,
            stances,
            widest: most(Kind::disc_m).max(Body::MIN_RADIUS_M),
            tallest: most(|kind| kind.body.height_m),
            farthest: most(Kind::reach_m),
            rules_digest: rules.digest(),
            assault_digest: assault.map_or(0, RunningAssault::digest),
            ground_digest: GroundDigest::new(ground),
        })
    }
}
