//! Which of some bodies a click or a box on the ground means.

use crate::geom::Vec2;

/// A body that can be picked.
#[derive(Clone, Copy, Debug, PartialEq)]
pub struct Pickable<Id> {
    /// Who it is.
    pub id: Id,
    /// Its middle, in metres.
    pub position: Vec2,
    /// Its radius, in metres.
    pub radius: f32,
}

/// The body under a point: of those whose edge is within `slack` metres of it, the one whose
/// middle is nearest. Ties by id.
#[must_use]
pub fn at_point<Id: Copy + Ord>(
    bodies: impl Iterator<Item = Pickable<Id>>,
    point: Vec2,
    slack: f32,
) -> Option<Id> {
    bodies
        .filter(|body| {
            let reach = body.radius + slack.max(0.0);
            body.position.distance_squared(point) <= reach * reach
        })
        .min_by(|a, b| {
            let distance = |body: &Pickable<Id>| body.position.distance_squared(point);
            let order = distance(a).total_cmp(&distance(b));
            order.then(a.id.cmp(&b.id))
        })
        .map(|body| body.id)
}

/// Those of the foremost rank among some that a box touches: fighters over workers over
/// buildings, say. The smallest rank is the foremost; within it they stand by `order`.
#[must_use]
pub fn foremost<Id: Copy, Rank: Ord, Order: Ord>(
    mut ids: Vec<Id>,
    rank: impl Fn(Id) -> Rank,
    order: impl Fn(Id) -> Order,
) -> Vec<Id> {
    if let Some(best) = ids.iter().map(|id| rank(*id)).min() {
        ids.retain(|id| rank(*id) == best);
    }
    ids.sort_by_key(|id| order(*id));
    ids
}
