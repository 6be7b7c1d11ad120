//! How units and members of flocks move, and what makes them: drawn on request.

use crate::font::Face;
use crate::frame::Frame;
use crate::legend::{Column, ends};
use crate::palette;
use crate::path::Path;
use crate::sheet::{Anchor, Colour, Line, Sheet, Text, small};
use yarrick::motion::flock::MemberId;
use yarrick::world::{FlockId, UnitId, World};
use yarrick::{Rect, Vec2};

/// What of the motions is drawn.
#[derive(Clone, Copy, Debug, Default)]
pub struct Motions<'a> {
    /// Whether an arrow shows where each unit and member will be in a second, as it moves now.
    pub velocities: bool,
    /// For whom arrows show what makes them move.
    pub forces: &'a [Subject],
}

/// One whose forces are drawn.
#[derive(Clone, Copy, Debug, PartialEq, Eq)]
pub enum Subject {
    /// A unit: see [`MotionBreakdown`](yarrick::world::MotionBreakdown).
    Unit(UnitId),
    /// A member of a flock: see [`Pulls`](yarrick::motion::flock::Pulls).
    Member(FlockId, MemberId),
}

/// Length in pixels of the arrow of a pull of 1, or of a metre a second.
const FORCE_PX: f32 = 30.0;

/// Below this a force is not drawn.
const LEAST_FORCE: f32 = 0.02;

pub(crate) fn draw(sheet: &mut Sheet, frame: &Frame, world: &World, motions: &Motions<'_>) {
    if motions.velocities {
        let units = world.units().map(|unit| (unit.position(), unit.velocity()));
        let flocks = world.flocks().flat_map(|(_, _, flock)| flock.members());
        let birds = flocks.map(|bird| (bird.at.truncate(), bird.velocity.truncate()));
        for (at, velocity) in units.chain(birds) {
            let way = velocity * frame.scale * Vec2::new(1.0, -1.0);
            draw_velocity(sheet, frame.point(at), way);
        }
    }
    for (_, at, forces) in subjects(world, motions) {
        draw_forces(sheet, frame.point(at), &forces);
    }
}

/// The boxes that hold the arrows of forces and their numbers.
pub(crate) fn force_boxes(frame: &Frame, world: &World, motions: &Motions<'_>) -> Vec<Rect> {
    let subjects = subjects(world, motions).into_iter();
    let boxes = subjects.map(|(_, at, forces)| {
        let longest = forces
            .iter()
            .map(|force| force.pull.length())
            .fold(0.0, f32::max);
        Rect::around(frame.point(at), longest * FORCE_PX + 24.0)
    });
    boxes.collect()
}

/// Those whose forces are drawn: their names, where they are, and what makes each move, by name.
fn subjects(world: &World, motions: &Motions<'_>) -> Vec<(String, Vec2, Vec<Force>)> {
    let subjects = motions.forces.iter();
    let known = subjects.filter_map(|subject| {
        let (name, at, forces) = forces(world, *subject)?;
        let felt = forces
            .into_iter()
            .filter(|force| force.pull.length() > LEAST_FORCE);
        Some((name, at, felt.collect()))
    });
    known.collect()
}

struct Force {
    name: &'static str,
    pull: Vec2,
}

/// An arrow from where one is to where it will be.
pub(crate) fn draw_velocity(sheet: &mut Sheet, at: Vec2, way: Vec2) {
    if way.length() > 2.0 {
        draw_arrow(sheet, at, way, (palette::INK.at(0.7), 1.1));
    }
}

fn draw_arrow(sheet: &mut Sheet, at: Vec2, way: Vec2, (colour, width): (Colour, f32)) {
    let (tip, along) = (at + way, way.normalize_or_zero());
    let barb = |side: f32| tip - along * (4.0 + width) + along.perp() * (side * (2.0 + width));
    let line = Line::new(colour, width);
    sheet.stroke(Path::polyline([at, tip]), line);
    sheet.stroke(Path::polyline([barb(1.0), tip, barb(-1.0)]), line);
}

/// The name of one, where it is, and what makes it move.
fn forces(world: &World, subject: Subject) -> Option<(String, Vec2, Vec<Force>)> {
    let force = |(name, pull)| Force { name, pull };
    match subject {
        Subject::Unit(unit) => {
            let view = world.unit(unit)?;
            let parts = world.motion_breakdown(unit)?;
            let named = [
                ("along its way", parts.wanted),
                ("turned aside", parts.aside),
                ("pushed by others", parts.pushed),
                ("held by what is there", parts.held),
            ];
            let name = format!("{} {unit}, m/s", view.kind().name);
            Some((name, view.position(), named.map(force).into()))
        }
        Subject::Member(id, member) => {
            let (_, name, flock) = world.flocks().find(|(known, _, _)| *known == id)?;
            let at = flock.member(member)?.at.truncate();
            let pulls = flock.pulls(member)?;
            let rules = [
                ("separation", pulls.separation.truncate()),
                ("alignment", pulls.alignment.truncate()),
                ("cohesion", pulls.cohesion.truncate()),
            ];
            let zones = pulls
                .zones
                .iter()
                .filter_map(|(zone, pull)| Some((flock.zone(*zone)?.role.word(), *pull)));
            let nth = flock.members().position(|known| known.id == member)?;
            let forces = rules.into_iter().chain(zones).map(force).collect();
            Some((format!("{name}/{nth}, pulls"), at, forces))
        }
    }
}

/// A ring round one, and its forces as arrows with the numbers that the legend explains.
fn draw_forces(sheet: &mut Sheet, at: Vec2, forces: &[Force]) {
    let ring = Path::circle(at, 10.0);
    sheet.stroke(ring.clone(), Line::new(palette::PAPER, 4.0));
    sheet.stroke(ring, Line::new(palette::INK, 1.4));
    for (force, nth) in forces.iter().zip(0..) {
        let way = force.pull * FORCE_PX * Vec2::new(1.0, -1.0);
        draw_force(sheet, at, way, nth);
    }
    for (force, nth) in forces.iter().zip(0_u8..) {
        let way = force.pull * FORCE_PX * Vec2::new(1.0, -1.0);
        // Beside the tip, each a little farther out, so that numbers of arrows on one line do not meet.
        let out = way.normalize_or_zero();
        let side = out.perp() * if nth.is_multiple_of(2) { 9.0 } else { -9.0 };
        draw_number(sheet, at + way + out * 9.0 + side, nth);
    }
}

fn draw_number(sheet: &mut Sheet, at: Vec2, nth: u8) {
    let text = Text {
        face: Face::Bold,
        halo: Some(palette::PAPER),
        ..small(
            at + Vec2::new(0.0, 4.5),
            (nth + 1).to_string(),
            palette::INK,
        )
    };
    sheet.text(text, Anchor::Middle);
}

/// The arrow of the nth force of one.
fn draw_force(sheet: &mut Sheet, at: Vec2, way: Vec2, nth: u8) {
    draw_arrow(sheet, at, way, (palette::PAPER, 5.0));
    draw_arrow(sheet, at, way, (palette::side(nth), 2.6));
}

/// The rows of the legend.
pub(crate) fn explain(column: &mut Column<'_>, world: &World, motions: &Motions<'_>) {
    if motions.velocities {
        column.heading("motion");
        column.row("where it will be in a second", |sheet, at| {
            let [from, to] = ends(at);
            draw_velocity(sheet, from, to - from);
        });
    }
    for (name, _, forces) in subjects(world, motions) {
        column.heading(&format!("what moves {name}"));
        for (force, nth) in forces.iter().zip(0..) {
            let text = format!("{} {:.2}", force.name, force.pull.length());
            column.row(&text, |sheet, at| {
                let way = force.pull.normalize_or_zero() * Vec2::new(1.0, -1.0);
                draw_force(sheet, at - way * 8.0, way * 16.0, nth);
                draw_number(sheet, at - Vec2::new(18.0, 0.0), nth);
            });
        }
    }
}
