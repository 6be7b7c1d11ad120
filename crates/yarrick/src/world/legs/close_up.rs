//! Makes room for another unit round a target: the units that stand there move along the rim.

use super::rims::{APART, Gaps, Look, Taken};
use crate::geom::Vec2;
use crate::motion::{OnRim, Opening, Rim};
use crate::world::kind::Ability;
use crate::world::state::State;
use smallvec::SmallVec;

/// Factor on the distance between new places, so that rounding does not bring two too close.
const A_HAIR_MORE: f32 = 1.005;

/// Maximum distance that a unit moves along the rim, in its radii.
const MOST_RADII: f32 = 1.0;

/// Units close up only when the new unit is at most this many of its radii too far from the target.
const NEARBY_RADII: f32 = 8.0;

/// A place for another unit, and the rows of the units that have to move, each with its new place.
pub(super) struct Room {
    pub(super) at: Vec2,
    pub(super) moved: SmallVec<[(usize, Vec2); 6]>,
}

/// The place nearest to a unit that other units round the same target can free by closing up. `None` if they cannot, if the target
/// walks, or if the unit is far away.
pub(super) fn room_for_one_more(
    look: &Look<'_>,
    gaps: Gaps,
    suits: &dyn Fn(&State, Vec2) -> bool,
) -> Option<Room> {
    let (state, from) = (look.state, look.state.units.position[look.row]);
    let nearby_m = gaps.most_m + NEARBY_RADII * look.radius;
    let is_nearby = state.gap_m(look.row, look.target) <= nearby_m;
    if !is_nearby || !state.units.locomotion[look.target].stands() {
        return None;
    }
    let rim = look.rim(gaps.best_m);
    let file = file_on(look, &rim);
    let bodies: SmallVec<[OnRim; 16]> = file.iter().map(|(body, _)| *body).collect();
    let most_m = MOST_RADII * look.radius;
    let openings = rim.openings(&bodies, look.radius, (APART * A_HAIR_MORE, most_m));
    let rooms = openings.map(|opening| room(&rim, &file, &opening));
    let is_sound = |room: &Room| {
        let moves = |row: usize| room.moved.iter().any(|(other, _)| *other == row);
        let stays = |taken: &&Taken| !moves(taken.row);
        let places = room.moved.iter().map(|(_, at)| *at).chain([room.at]);
        let is_free = |at: Vec2| {
            let mut others = look.taken.iter().filter(stays);
            !others.any(|taken| taken.touches(at, look.radius))
                && look.can_stand(at)
                && suits(state, at)
        };
        places.clone().all(is_free) && are_apart(places.collect(), look.radius)
    };
    let off = |room: &Room| room.at.distance_squared(from);
    let sound = rooms.filter(is_sound);
    sound.min_by(|a, b| off(a).total_cmp(&off(b)))
}

/// The units whose places lie on a rim, sorted by position along it, each with its row.
fn file_on(look: &Look<'_>, rim: &Rim) -> SmallVec<[(OnRim, usize); 16]> {
    let units = &look.state.units;
    let on_rim = |taken: &Taken| {
        let along_m = rim.nearest(taken.at);
        let berth = units.berth[taken.row];
        let is_in_place = berth
            .is_some_and(|berth| berth.is_near && berth.target == units.id[look.target])
            && look.state.kind_of(taken.row).can(Ability::Moves);
        let is_alike = taken.radius == look.radius && units.kind[taken.row] == units.kind[look.row];
        let body = OnRim {
            along_m,
            radius_m: taken.radius,
            moves: is_in_place && is_alike,
        };
        // A unit farther in or out does not block the rim.
        taken
            .touches(rim.at(along_m), look.radius)
            .then_some((body, taken.row))
    };
    let mut file: SmallVec<[(OnRim, usize); 16]> = look.taken.iter().filter_map(on_rim).collect();
    file.sort_by(|(a, _), (b, _)| a.along_m.total_cmp(&b.along_m));
    file
}

fn room(rim: &Rim, file: &[(OnRim, usize)], opening: &Opening) -> Room {
    let moved = opening.moved.iter();
    let moved = moved.map(|(number, along_m)| (file[*number].1, rim.at(*along_m)));
    Room {
        at: rim.at(opening.along_m),
        moved: moved.collect(),
    }
}

/// Whether bodies of the same radius can stand at all of these places at once.
fn are_apart(places: SmallVec<[Vec2; 8]>, radius: f32) -> bool {
    let least = 2.0 * radius * APART;
    let rest = |number: usize| &places[number + 1..];
    let mut all = places.iter().enumerate();
    all.all(|(number, at)| {
        rest(number)
            .iter()
            .all(|other| at.distance(*other) >= least)
    })
}
