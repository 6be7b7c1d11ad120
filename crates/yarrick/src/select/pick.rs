//! Which of some bodies a click or a box on the ground means.

use crate::geom::{Rect, Vec2};

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

/// The bodies that a box touches.
pub fn in_box<Id: Copy>(
    bodies: impl Iterator<Item = Pickable<Id>>,
    rect: Rect,
) -> impl Iterator<Item = Id> {
    bodies
        .filter(move |body| rect.touches_disc(body.position, body.radius))
        .map(|body| body.id)
}
