//! Probe.
use yarrick::combat::Weapon;
use yarrick::ground::{Cell, Lattice};
use yarrick::motion::steering::Turning;
use yarrick::rng::Stream;
use yarrick::world::{Change, Failure, Kind, Legs};
use yarrick::{Action, Command, Event, Ground, Outcome, Side, SideId, Terrain, UnitId, Vec2, When, World, WorldSetup};

const OWN: SideId = SideId(0);
const FOE: SideId = SideId(1);

#[derive(Clone)]
struct Case {
    rows: Vec<String>,
    hex: bool,
    kinds: Vec<Kind>,
    /// kind, side, at, facing
    bodies: Vec<(usize, SideId, Vec2, f32)>,
    /// time, units, action
    orders: Vec<(f32, Vec<usize>, Action)>,
    changes: Vec<(f32, Change)>,
    /// who is measured
    movers: Vec<usize>,
    limit_s: f32,
}

struct Ran {
    ends: Vec<(Option<Outcome>, f32, Vec2)>,
    longest_still: f32,
}

fn open(w: usize, h: usize) -> Vec<String> {
    vec![".".repeat(w); h]
}

fn world_of(case: &Case, only: Option<usize>) -> (World, Vec<Option<UnitId>>) {
    let rows: Vec<&str> = case.rows.iter().map(String::as_str).collect();
    let legend = [('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))];
    let ground = if case.hex {
        Ground::from_rows(1.0, &rows, &legend).unwrap().with_lattice(Lattice::Hexes)
    } else {
        Ground::from_rows(1.0, &rows, &legend).unwrap()
    };
    let mut world = World::new(WorldSetup {
        sides: vec![Side::new("keepers"), Side::new("tide")],
        kinds: case.kinds.clone(),
        ..WorldSetup::on(ground)
    })
    .unwrap();
    let ids = case.bodies.iter().enumerate().map(|(k, (kind, side, at, facing))| {
        if only.is_some_and(|only| only != k) {
            return None;
        }
        let id = world.kind(&case.kinds[*kind].name).unwrap();
        match world.spawn(id, *side, *at, *facing) {
            Ok(unit) => Some(unit),
            Err(e) => { println!("spawn {k} at {at}: {e}"); None }
        }
    });
    let ids: Vec<_> = ids.collect();
    (world, ids)
}

fn run(case: &Case, only: Option<usize>, trace: bool) -> Ran {
    let (mut world, ids) = world_of(case, only);
    let mut ends: Vec<(Option<Outcome>, f32, Vec2)> = vec![(None, 0.0, Vec2::ZERO); case.bodies.len()];
    let mut orders = case.orders.clone();
    let mut changes = case.changes.clone();
    let mut left: Vec<usize> = vec![0; case.bodies.len()];
    for (_, who, _) in &orders { for w in who { left[*w] += 1; } }
    let ticks = (case.limit_s / world.tick_s()) as u32;
    for tick in 0..ticks {
        let t = tick as f32 * world.tick_s();
        orders.retain(|(at, who, action)| {
            if *at > t { return true; }
            let units: Vec<UnitId> = who.iter().filter_map(|k| ids[*k]).collect();
            if let Some(first) = who.first() && !units.is_empty() {
                let side = case.bodies[*first].1;
                world.submit(Command { side, units, action: action.clone(), when: When::Now }).unwrap();
            }
            false
        });
        changes.retain(|(at, change)| {
            if *at > t { return true; }
            world.change(change.clone()).unwrap();
            false
        });
        for event in world.step().to_vec() {
            if trace { match &event { Event::Ended{..} | Event::SetOut{..} => println!("   {t:.2} {event:?}"), _ => {} } }
            if let Event::Ended { unit, outcome, .. } = event {
                let k = ids.iter().position(|id| *id == Some(unit)).unwrap();
                left[k] -= 1;
                if left[k] == 0 {
                    ends[k] = (Some(outcome), t, world.unit(unit).map_or(Vec2::ZERO, |u| u.position()));
                }
            }
            if let Event::Refused { .. } = event { println!("refused {event:?}"); }
        }
        if trace && tick % 10 == 0 {
            let all: Vec<String> = case.movers.iter().filter_map(|k| ids[*k]).map(|id| {
                let u = world.unit(id).unwrap();
                format!("({:.2},{:.2} {:?} f{:.0} w{})", u.position().x, u.position().y, u.doing(), u.facing().to_degrees(), u.way_ahead().len())
            }).collect();
            println!("   {t:.2}: {}", all.join(" "));
            if let Ok(w) = std::env::var("WHO") { let k: usize = w.parse().unwrap(); let u = world.unit(ids[k].unwrap()).unwrap(); println!("      way {:?}\n      {:?}", u.way_ahead(), world.motion_breakdown(u.id())); for o in world.units() { let gap = o.position().distance(u.position()) - o.radius() - u.radius(); if o.id() != u.id() && gap < 0.15 { println!("      near {} {:?} gap {:.3} {:?}", o.id(), o.position(), gap, o.doing()); } } }
        }
        let done = case.movers.iter().all(|k| ids[*k].is_none() || ends[*k].0.is_some());
        if done { break; }
    }
    Ran { ends, longest_still: 0.0 }
}

fn kind(name: &str, radius: f32, speed: f32) -> Kind {
    Kind::walker(name, radius, speed)
}

fn go(to: Vec2) -> Action { Action::Move { to } }

fn v(x: f32, y: f32) -> Vec2 { Vec2::new(x, y) }

/// 1: past standing bodies.
fn past(seed: u64) -> Case {
    let mut s = Stream::new(seed, "past");
    let r = s.between(0.25, 0.7);
    let ro = s.between(0.25, 0.7);
    let mut case = Case { rows: open(32, 24), hex: false, kinds: vec![kind("a", r, 2.0), kind("b", ro, 2.0).with_health(0.0)], bodies: vec![], orders: vec![], changes: vec![], movers: vec![], limit_s: 120.0 };
    let movers = 1 + s.below(3) as usize;
    let spot = v(s.between(12.0, 18.0), s.between(9.0, 15.0));
    for k in 0..movers { 
        case.bodies.push((0, OWN, v(3.0 - 0.0, spot.y + s.between(-1.0, 1.0) * 0.5 + k as f32 * 2.2 * r - (movers as f32 - 1.0) * 1.1 * r), s.between(-3.0, 3.0)));
        case.movers.push(k);
    }
    let (cols, rows) = (1 + s.below(6), 1 + s.below(6));
    let gap = s.between(0.02, 1.2) * ro;
    let turn = s.between(0.0, 3.0);
    let side = if s.below(2) == 0 { OWN } else { FOE };
    let holds = side == OWN && s.below(2) == 0;
    let step = 2.0 * ro + gap;
    for c in 0..cols { for q in 0..rows {
        let o = v((c as f32 - (cols - 1) as f32 / 2.0) * step, (q as f32 - (rows - 1) as f32 / 2.0) * step);
        let o = v(o.x * turn.cos() - o.y * turn.sin(), o.x * turn.sin() + o.y * turn.cos());
        case.bodies.push((1, side, spot + o, 0.0));
    } }
    let n = case.bodies.len();
    if holds { case.orders.push((0.0, (movers..n).collect(), Action::Hold)); }
    case.orders.push((0.5, (0..movers).collect(), go(v(28.0, spot.y + s.between(-1.0, 1.0)))));
    case
}

/// 1b: six units sent near the middle of 30 parked ones
fn parked(seed: u64) -> Case {
    let mut s = Stream::new(seed, "parked");
    let r = s.between(0.3, 0.6);
    let mut case = Case { rows: open(40, 30), hex: false, kinds: vec![kind("a", r, 2.0)], bodies: vec![], orders: vec![], changes: vec![], movers: vec![], limit_s: 120.0 };
    let n = 1 + s.below(8) as usize;
    for k in 0..n { case.bodies.push((0, OWN, v(4.0 + (k / 3) as f32 * 2.3 * r, 14.0 + (k % 3) as f32 * 2.3 * r), 0.0)); case.movers.push(k); }
    let m = 8 + s.below(40) as usize;
    let cols = 2 + s.below(7) as usize;
    let step = r * s.between(2.05, 3.2);
    let mid = v(26.0, 15.0); let _ = ();
    for k in 0..m { case.bodies.push((0, OWN, mid + v(((k % cols) as f32 - cols as f32 / 2.0) * step, ((k / cols) as f32 - (m / cols) as f32 / 2.0) * step), 0.0)); }
    let off = v(s.between(-1.5, 1.5), s.between(-1.5, 1.5));
    case.orders.push((0.5, (0..n).collect(), go(mid + off)));
    case
}

/// 3: driving carts hop.
fn hops(seed: u64) -> Case {
    let mut s = Stream::new(seed, "hops");
    let r = s.between(0.5, 1.2);
    let sp = s.between(0.8, 3.0);
    let mut k = kind("cart", r, sp);
    let turning = if s.below(4) == 0 { Turning::OnTheSpot } else { Turning::Driving { circle_m: r * s.between(1.0, 3.5) } };
    k = k.with_legs(Legs { turning, acceleration: (s.below(2) == 0).then_some(1.5), ..Legs::of_speed(sp) });
    k.body.turn_rate = s.between(1.0, 4.0);
    let mut case = Case { rows: open(40, 40), hex: false, kinds: vec![k], bodies: vec![(0, OWN, v(20.0, 20.0), 0.0)], orders: vec![], changes: vec![], movers: vec![0], limit_s: 60.0 };
    let (d, a) = (s.between(0.3, 5.0), s.between(-3.14, 3.14));
    case.orders.push((0.0, vec![0], go(v(20.0 + d * a.cos(), 20.0 + d * a.sin()))));
    case
}

/// 4: corridor with a cart and idle own units in it
fn corridor(seed: u64) -> Case {
    let mut s = Stream::new(seed, "corridor");
    let width = 3;
    let h = 15;
    let y0 = 6;
    let mut rows = open(44, h);
    for (y, row) in rows.iter_mut().enumerate() {
        // from below: row 0 is top? symmetrical
        if y < y0 || y >= y0 + width { row.replace_range(10..34, &"#".repeat(24)); }
    }
    let mode = s.below(3);
    let rad = match mode { 2 => 1.2, _ => 0.9 };
    let turning = match mode { 0 => Turning::OnTheSpot, 1 => Turning::Driving { circle_m: rad * 2.0 }, _ => Turning::Free };
    let cart = kind("cart", rad, 1.2).with_legs(Legs { turning, ..Legs::of_speed(1.2) });
    let mut case = Case { rows, hex: false, kinds: vec![cart, kind("a", 0.4, 2.0)], bodies: vec![(0, OWN, v(4.0, 7.5), 0.0)], orders: vec![], changes: vec![], movers: vec![0], limit_s: 300.0 };
    let n = 1 + s.below(6);
    for _ in 0..n {
        for _ in 0..50 {
            let at = v(s.between(10.0, 34.0), s.between(6.45, 8.55));
            if case.bodies[1..].iter().all(|b| b.2.distance(at) > 0.85) { case.bodies.push((1, OWN, at, 0.0)); break; }
        }
    }
    case.orders.push((0.5, vec![0], go(v(39.0, 7.5))));
    case
}

/// 6: single commands to one point
fn singles(seed: u64) -> Case {
    let mut s = Stream::new(seed, "singles");
    let r = s.between(0.3, 0.5);
    let n = [1, 2, 3, 5, 10, 10, 20, 50, 100, 200][s.below(10) as usize];
    let mut case = Case { rows: open(70, 60), hex: false, kinds: vec![kind("a", r, 2.0)], bodies: vec![], orders: vec![], changes: vec![], movers: (0..n).collect(), limit_s: 150.0 };
    let cols = (n as f32).sqrt().ceil() as usize;
    let step = r * s.between(2.1, 3.5);
    for k in 0..n { case.bodies.push((0, OWN, v(5.0 + (k % cols) as f32 * step, 10.0 + (k / cols) as f32 * step), 0.0)); }
    let to = v(s.between(30.0, 50.0), s.between(15.0, 45.0));
    for k in 0..n { case.orders.push((0.5, vec![k], go(to))); }
    case
}

/// 7: two flows in a corridor
fn flows(seed: u64) -> Case {
    let mut s = Stream::new(seed, "flows");
    let width = 2 + s.below(2) as usize;
    let long = 6 + s.below(18) as usize;
    let y0 = 7;
    let mut rows = open(30 + long, 16);
    for (y, row) in rows.iter_mut().enumerate() {
        if y < y0 || y >= y0 + width { row.replace_range(15..15 + long, &"#".repeat(long)); }
    }
    let r = s.between(0.3, 0.42);
    // rows are from the top or bottom; find the middle of the corridor.
    let mid = 16.0 - y0 as f32 - width as f32 / 2.0;
    let mut case = Case { rows, hex: false, kinds: vec![kind("a", r, 2.0)], bodies: vec![], orders: vec![], changes: vec![], movers: vec![], limit_s: 300.0 };
    let n = 1 + s.below(12) as usize;
    let m = 1 + s.below(12) as usize;
    let far = 30.0 + long as f32;
    for k in 0..n { case.bodies.push((0, OWN, v(8.0 - (k / 2) as f32 * 1.0, mid - 0.5 + (k % 2) as f32), 0.0)); }
    for k in 0..m { case.bodies.push((0, OWN, v(far - 8.0 + (k / 2) as f32 * 1.0, mid - 0.5 + (k % 2) as f32), 3.14)); }
    case.movers = (0..n + m).collect();
    case.orders.push((0.5, (0..n).collect(), go(v(far - 5.0, mid))));
    case.orders.push((0.5 + s.between(0.0, 2.0), (n..n + m).collect(), go(v(5.0, mid))));
    case
}

/// 9: walkers in clutter
fn clutter(seed: u64) -> Case {
    let mut s = Stream::new(seed, "clutter");
    let (w, h) = (24usize, 16usize);
    let mut grid = vec![vec!['.'; w]; h];
    for _ in 0..3 + s.below(30) { let (x, y) = (s.below(w as u32) as usize, s.below(h as u32) as usize); grid[y][x] = '#'; }
    let r = s.between(0.3, 0.48);
    let rows: Vec<String> = grid.iter().map(|r| r.iter().collect()).collect();
    let mut case = Case { rows, hex: s.below(4) == 0, kinds: vec![kind("a", r, s.between(1.0, 4.0))], bodies: vec![], orders: vec![], changes: vec![], movers: vec![], limit_s: 400.0 };
    if case.hex { case.rows.iter_mut().for_each(|r| *r = r.clone()); }
    let n = 2 + s.below(9) as usize;
    let rows: Vec<&str> = case.rows.iter().map(String::as_str).collect();
    let legend = [('.', Terrain::open("sand")), ('#', Terrain::closed("dyke"))];
    let ground = if case.hex { Ground::from_rows(1.0, &rows, &legend).unwrap().with_lattice(Lattice::Hexes) } else { Ground::from_rows(1.0, &rows, &legend).unwrap() };
    let mut tries = 0;
    while case.bodies.len() < n && tries < 1000 {
        tries += 1;
        let at = v(s.between(0.5, 23.5), s.between(0.5, 13.0));
        if ground.disc_is_clear(at, r) && case.bodies.iter().all(|b| b.2.distance(at) > 2.0 * r) { case.bodies.push((0, OWN, at, 0.0)); }
    }
    let n = case.bodies.len();
    case.movers = (0..n).collect();
    let p = |s: &mut Stream| v(s.between(0.5, 23.5), s.between(0.5, 13.0));
    case.orders.push((0.0, (0..n).collect(), go(p(&mut s))));
    case.orders.push((s.between(0.5, 20.0), (0..n).collect(), go(p(&mut s))));
    case
}

/// 10: near the rim with acceleration
fn rim(seed: u64) -> Case {
    let mut s = Stream::new(seed, "rim");
    let hex = s.below(3) > 0;
    let r = s.between(0.3, 0.8);
    let sp = s.between(1.0, 4.0);
    let k = kind("a", r, sp).with_legs(Legs { acceleration: Some(s.between(0.5, 3.0)), ..Legs::of_speed(sp) });
    let mut case = Case { rows: open(20, 14), hex, kinds: vec![k], bodies: vec![], orders: vec![], changes: vec![], movers: vec![0], limit_s: 120.0 };
    case.bodies.push((0, OWN, v(s.between(2.0, 17.0), s.between(2.0, 10.0)), 0.0));
    for k in 0..5 { case.orders.push((k as f32 * 4.0, vec![0], go(v(s.between(-1.0, 21.0), s.between(-1.0, 14.0))))); }
    case
}

/// 13: column through a gap
fn column(seed: u64) -> Case {
    let mut s = Stream::new(seed, "column");
    let n = 20 + s.below(50) as usize;
    let gap = 2 + s.below(2) as usize;
    let mut rows = open(130, 30);
    for (y, row) in rows.iter_mut().enumerate() { if y < 14 || y >= 14 + gap { row.replace_range(100..101, "#"); } }
    let r = s.between(0.3, 0.5);
    let mut case = Case { rows, hex: false, kinds: vec![kind("a", r, 2.0)], bodies: vec![], orders: vec![], changes: vec![], movers: (0..n).collect(), limit_s: 200.0 };
    let files = 1 + s.below(5) as usize;
    for k in 0..n { case.bodies.push((0, OWN, v(92.0 - (k / files) as f32 * 2.2 * r , 8.0 + s.between(0.0, 0.05) + (k % files) as f32 * 2.2 * r), 0.0)); }
    case.orders.push((0.0, (0..n).collect(), go(v(s.between(108.0, 124.0), s.between(5.0, 25.0)))));
    case
}

/// 8: built over
fn built(seed: u64) -> Case {
    let mut s = Stream::new(seed, "built");
    let n = 1 + s.below(12) as usize;
    let mut case = Case { rows: open(40, 24), hex: false, kinds: vec![kind("a", 0.4, 2.0)], bodies: vec![], orders: vec![], changes: vec![], movers: (0..n).collect(), limit_s: 200.0 };
    for k in 0..n { case.bodies.push((0, OWN, v(5.0 + (k % 3) as f32, 10.0 + (k / 3) as f32), 0.0)); }
    let to = v(s.between(20.0, 32.0), s.between(6.0, 16.0));
    case.orders.push((0.0, (0..n).collect(), go(to)));
    let (w, h) = (1 + s.below(6) as i32, 1 + s.below(5) as i32);
    let (x, y) = (to.x as i32 - s.below(w as u32) as i32, to.y as i32 - s.below(h as u32) as i32);
    let cells = (0..w).flat_map(|i| (0..h).map(move |j| Cell::new(x + i, y + j))).collect();
    case.changes.push((s.between(0.5, 12.0), Change::Block { cells }));
    case
}

/// 5: gate opens
fn gate(seed: u64) -> Case {
    let mut s = Stream::new(seed, "gate");
    let n = 1 + s.below(6) as usize;
    let mut rows = open(30, 16);
    for row in rows.iter_mut() { row.replace_range(15..16, "#"); }
    let sealed = s.below(2) == 0;
    if !sealed { rows[if s.below(2) == 0 {0} else {15}].replace_range(15..16, "."); }
    let mut case = Case { rows, hex: false, kinds: vec![kind("a", 0.4, 2.0)], bodies: vec![], orders: vec![], changes: vec![], movers: (0..n).collect(), limit_s: 100.0 };
    for k in 0..n { case.bodies.push((0, OWN, v(4.0 + (k % 3) as f32, 7.0 + (k / 3) as f32), 0.0)); }
    case.orders.push((0.0, (0..n).collect(), go(v(s.between(18.0, 27.0), s.between(3.0, 12.0)))));
    let y = 7 + s.below(2) as i32;
    let cells = (0..2).map(|j| Cell::new(15, y + j)).collect();
    case.changes.push((s.between(0.1, 5.0), Change::SetTerrain { cells, terrain: 0 }));
    case
}

fn report(name: &str, seeds: core::ops::Range<u64>, make: fn(u64) -> Case, ratio: bool, trace: Option<u64>) {
    if let Some(seed) = trace {
        let case = make(seed);
        println!("{}", case.rows.join("\n"));
        for (k, b) in case.bodies.iter().enumerate() { println!("{k}: kind {} side {} at {} f {:.2}", b.0, b.1.0, b.2, b.3); }
        for k in &case.kinds { println!("{} r {} {:?}", k.name, k.body.radius_m, k.legs); }
        println!("orders {:?} changes {:?}", case.orders, case.changes);
        let ran = run(&case, None, true);
        for k in &case.movers { println!("{k} {:?}", ran.ends[*k]); }
        return;
    }
    let (mut unfinished, mut failed, mut slow, mut runs, mut all) = (0, 0, 0, 0, 0);
    let mut bad = Vec::new();
    let mut worst: Vec<(f32, u64)> = Vec::new();
    for seed in seeds {
        let case = make(seed);
        let ran = run(&case, None, false);
        runs += 1;
        let mut is_bad = false;
        let mut worst_here = 0.0f32;
        for &k in &case.movers {
            all += 1;
            match ran.ends[k].0 {
                None => { unfinished += 1; is_bad = true; }
                Some(Outcome::CameShort { .. }) if name == "gate" || name == "past" || name == "parked" => { failed += 1; is_bad = true; }
                Some(Outcome::Failed { why }) if why != Failure::TargetGone => { 
                    let alone = run(&case, Some(k), false);
                    if !matches!(alone.ends[k].0, Some(Outcome::Failed{..})) || why == Failure::HeldUp {
                    failed += 1; is_bad = true; }}
                _ => {}
            }
            if ratio {
                let alone = run(&case, Some(k), false);
                let start = case.orders.iter().filter(|o| o.1.contains(&k)).map(|o| o.0).fold(0.0, f32::max);
                let q = (ran.ends[k].1 - start) / (alone.ends[k].1 - start).max(0.5);
                if q > 1.5 { slow += 1; }
                worst_here = worst_here.max(q);
            }
        }
        worst.push((worst_here, seed));
        if is_bad { bad.push(seed); }
    }
    worst.sort_by(|a, b| b.0.total_cmp(&a.0));
    println!("{name}: {runs} runs, {all} orders: {unfinished} unfinished, {failed} failed, {slow} slow; bad seeds {:?}; slowest {:?}", &bad[..bad.len().min(14)], worst.iter().take(8).map(|w| format!("{:.2}@{}", w.0, w.1)).collect::<Vec<_>>().join(" "));
}

fn main() {
    let args: Vec<String> = std::env::args().skip(1).collect();
    let name = args.first().map_or("all", |s| s.as_str());
    let count: u64 = args.get(1).and_then(|s| s.parse().ok()).unwrap_or(100);
    let trace: Option<u64> = args.get(2).and_then(|s| s.parse().ok());
    let all: [(&str, fn(u64) -> Case, bool); 11] = [("past", past, true), ("parked", parked, false), ("hops", hops, false), ("corridor", corridor, true), ("singles", singles, false), ("flows", flows, true), ("clutter", clutter, false), ("rim", rim, false), ("column", column, false), ("built", built, false), ("gate", gate, false)];
    for (n, make, ratio) in all {
        if name == "all" || name == n { report(n, 0..count, make, ratio, trace); }
    }
    let _ = Weapon::PLAIN; let _ = FOE;
}
