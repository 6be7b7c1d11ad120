//! Where groups are bound for: units that are sent to one point one by one settle there as one group would.

use crate::geom::Vec2;
use crate::world::ids::SideId;
use crate::world::state::{
    Assembly, Claim, Destination, GroupNo, Locomotion, Place, Scratch, State,
};

/// Two goals less than this many radii of the unit apart are one.
const SAME_RADII: f32 = 1.0;

/// The group that is bound for a point already, and the point that it was sent to, if there is one of a side. Looks only at
/// groups whose members are under way.
pub(crate) fn group_bound_for(
    state: &State,
    scratch: &mut Scratch,
    (side, goal): (SideId, Vec2),
    radius_m: f32,
) -> Option<(GroupNo, Vec2)> {
    note_groups(state, scratch);
    let near_m = radius_m * SAME_RADII;
    let assemblies = &scratch.assemblies;
    let (low, high) = (
        cell(goal - Vec2::splat(near_m)),
        cell(goal + Vec2::splat(near_m)),
    );
    let cells = (low.1..=high.1).flat_map(|y| (low.0..=high.0).map(move |x| (x, y)));
    let listed = cells
        .filter_map(|cell| assemblies.by_cell.get(&cell))
        .flatten();
    let all = listed.map(|at| &assemblies.all[*at as usize]);
    let same = all.filter(|one| one.side == side && one.goal.distance(goal) <= near_m);
    let first = same.min_by_key(|one| one.group)?;
    Some((first.group, first.goal))
}

/// Notes that units go to a point as a group from now on. All members then know how far their places reach.
pub(crate) fn join_assembly(
    state: &mut State,
    scratch: &mut Scratch,
    (side, group): (SideId, GroupNo),
    members: &[(usize, Destination)],
) {
    if scratch.assemblies.tick != state.clock.tick {
        return;
    }
    for (row, destination) in members {
        let Ok(place) = destination.place else {
            continue;
        };
        add(
            scratch,
            (side, group),
            destination.goal,
            (*row as u32, place.spread_m),
        );
    }
    let Some(at) = scratch.assemblies.by_group.get(&group) else {
        return;
    };
    let assembly = &mut scratch.assemblies.all[*at as usize];
    let middle = members
        .iter()
        .find_map(|(_, destination)| destination.place.ok());
    let Some(middle) = middle.map(|place| place.middle) else {
        return;
    };
    let reach_m = members
        .iter()
        .filter_map(|(_, destination)| destination.place.ok());
    let reach_m = reach_m
        .map(|place| place.at.distance(middle))
        .fold(0.0, f32::max);
    assembly.spread_m = assembly.spread_m.max(reach_m);
    let spread_m = assembly.spread_m;
    for row in &assembly.rows {
        let locomotion = &mut state.units.locomotion[*row as usize];
        let known = locomotion.place().filter(|target| target.group == group);
        if let Some(place) = known.map(|target| target.place)
            && place.middle == middle
            && place.spread_m < spread_m
        {
            locomotion.set_place(Place { spread_m, ..place });
        }
    }
}

fn cell(point: Vec2) -> (i32, i32) {
    // Casts saturate.
    (point.x.floor() as i32, point.y.floor() as i32)
}

/// Notes the groups that are under way, once in a tick in which somebody asks.
fn note_groups(state: &State, scratch: &mut Scratch) {
    if scratch.assemblies.tick == state.clock.tick {
        return;
    }
    scratch.assemblies.begin(state.clock.tick);
    for row in 0..state.units.len() {
        let target = match &state.units.locomotion[row] {
            Locomotion::Standing | Locomotion::Steered(_) => None,
            locomotion => locomotion.place(),
        };
        if let Some(target) = target.filter(|target| target.claim == Claim::Trades)
            && !state
                .marches
                .iter()
                .any(|march| march.group == target.group)
        {
            let of = (state.units.side[row], target.group);
            add(
                scratch,
                of,
                target.goal,
                (row as u32, target.place.spread_m),
            );
        }
    }
}

fn add(
    scratch: &mut Scratch,
    (side, group): (SideId, GroupNo),
    goal: Vec2,
    (row, spread_m): (u32, f32),
) {
    let assemblies = &mut scratch.assemblies;
    let count = assemblies.all.len() as u32;
    let at = *assemblies.by_group.entry(group).or_insert(count);
    if at == count {
        assemblies.all.push(Assembly {
            side,
            group,
            goal,
            spread_m,
            rows: Vec::new(),
        });
        assemblies.by_cell.entry(cell(goal)).or_default().push(at);
    }
    let assembly = &mut assemblies.all[at as usize];
    assembly.spread_m = assembly.spread_m.max(spread_m);
    assembly.rows.push(row);
}
