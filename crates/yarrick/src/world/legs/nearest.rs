//! The place nearest to a point that a unit can get to past the bodies that stand round it.

use crate::geom::Vec2;
use crate::motion::{Mesh, Obstacle, Surroundings};
use crate::world::state::{Scratch, State};

/// The mesh on which the place is searched: the distance of its nodes in radii of the unit, and the nodes to either side.
const MESH: (f32, u32) = (0.5, 36);

/// The way of a unit to the place that is nearest to a point, of those on a mesh round the unit, and the work to find it. Empty if the unit
/// is as near as it can get. `yields` says of each body whether it makes room, or `None` if it is not in the way.
pub(crate) fn nearest_place(
    state: &State,
    scratch: &mut Scratch,
    (row, to): (usize, Vec2),
    yields: impl Fn(usize) -> Option<bool>,
) -> (Vec<Vec2>, u32) {
    let (from, radius_m) = (state.units.position[row], state.units.radius[row]);
    let mesh = Mesh::in_radii(radius_m, MESH);
    note_bodies(state, scratch, (row, mesh.half_m()), yields);
    let around = Surroundings {
        view: state.ground_view(row),
        radius_m,
        obstacles: &scratch.obstacles,
    };
    let search = &mut scratch.detours;
    let way = search.find_nearest(&around, &mesh, (from, to));
    (way, search.work())
}

/// Notes the bodies round a unit that are in the way, as obstacles within a number of metres on either axis.
pub(super) fn note_bodies(
    state: &State,
    scratch: &mut Scratch,
    (row, half_m): (usize, f32),
    yields: impl Fn(usize) -> Option<bool>,
) {
    let units = &state.units;
    let reach = half_m * core::f32::consts::SQRT_2 + units.radius[row] + state.derived.widest;
    let near = scratch.near.within(units.position[row], reach);
    let others = near
        .map(|other| other as usize)
        .filter(|other| *other != row);
    let obstacles = others.filter(|other| units.radius[*other] > 0.0);
    scratch.obstacles.clear();
    scratch.obstacles.extend(obstacles.filter_map(|other| {
        Some(Obstacle {
            at: units.position[other],
            radius_m: units.radius[other],
            yields: yields(other)?,
        })
    }));
}
