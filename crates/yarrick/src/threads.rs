//! The threads on which the parts of a tick are computed.
//!
//! A pool is made once and kept: waking a thread that exists takes some microseconds, starting one takes many times as
//! long. What is computed never depends on how the work is split.

use rayon::{ThreadPool, ThreadPoolBuilder};
use std::sync::{Arc, Mutex, PoisonError};

/// The most threads of a pool.
const MAX_THREADS: usize = 64;

/// A pool of threads, or just the thread that asks. Clones share the pool; it ends with the last of them.
///
/// ```
/// use yarrick::Threads;
/// use yarrick::geom::Vec3;
/// use yarrick::motion::flock::{Flock, FlockParams};
///
/// let threads = Threads::new(2);
/// let mut flock = Flock::new(FlockParams::default())?;
/// flock.add(Vec3::ZERO, 0.7, 1.0)?;
/// for _ in 0..20 {
///     flock.step_on(&threads, 0.05);
/// }
/// # Ok::<(), Box<dyn std::error::Error>>(())
/// ```
#[derive(Clone, Debug, Default)]
pub struct Threads(Option<Arc<ThreadPool>>);

impl Threads {
    /// A pool of `count` threads, 1 to 64; numbers beyond that are brought within it. One thread needs no pool: the work
    /// is done by the thread that asks for it. So it is too where the machine gives no threads.
    #[must_use]
    pub fn new(count: usize) -> Threads {
        let count = count.clamp(1, MAX_THREADS);
        if count == 1 {
            return Threads::default();
        }
        let pool = ThreadPoolBuilder::new().num_threads(count).build();
        Threads(pool.ok().map(Arc::new))
    }

    /// How many threads there are.
    #[must_use]
    pub fn count(&self) -> usize {
        let pool = self.0.as_ref();
        pool.map_or(1, |pool| pool.current_num_threads())
    }

    /// Runs `work` on one of the threads, and waits for it. Worlds and flocks that share these threads and are stepped in
    /// there need not be handed from thread to thread: that saves some microseconds a tick, and the memory in which a
    /// pool queues what comes from outside, a block of 63 entries at a time.
    ///
    /// ```
    /// use yarrick::{Ground, Kind, Side, Terrain, Threads, World, WorldSetup};
    ///
    /// let ground = Ground::from_rows(1.0, &["....", "...."], &[('.', Terrain::open("sand"))])?;
    /// let mut world = World::new(WorldSetup {
    ///     sides: vec![Side::new("keepers")],
    ///     kinds: vec![Kind::walker("raker", 0.4, 1.5)],
    ///     ..WorldSetup::on(ground)
    /// })?;
    /// let threads = Threads::new(2);
    /// world.share_threads(&threads);
    /// threads.run(|| {
    ///     for _ in 0..20 {
    ///         world.step();
    ///     }
    /// });
    /// assert_eq!(world.tick(), 20);
    /// # Ok::<(), Box<dyn std::error::Error>>(())
    /// ```
    pub fn run<R: Send>(&self, work: impl FnOnce() -> R + Send) -> R {
        match &self.0 {
            Some(pool) => pool.install(work),
            None => work(),
        }
    }

    /// Works on each of some things, a step at a time, until nothing is left to do. `left` gives how much is left for one of them;
    /// `step` must lessen it. Each thread works on the thing for which most is left, and goes on with it until `margin` more is left
    /// for another. So all threads are busy until shortly before the end, however long the steps take.
    pub(crate) fn step_each<T: Send>(
        &self,
        list: &mut [T],
        margin: u32,
        left: impl Fn(&T) -> u32 + Sync,
        step: impl Fn(&mut T) + Sync,
    ) {
        let Some(pool) = self.0.as_ref().filter(|_| list.len() > 1) else {
            for one in list {
                while left(one) > 0 {
                    step(one);
                }
            }
            return;
        };
        let mut workers = [(); MAX_THREADS];
        let workers = &mut workers[..self.count().min(list.len())];
        let queue = Queue(Mutex::new(list.iter_mut().collect()));
        let work = |_: usize, _: &mut [()]| {
            let mut held = queue.take(&left);
            while let Some(one) = held {
                step(one);
                held = match left(one) {
                    0 => queue.take(&left),
                    rest => Some(queue.exchange(one, rest.saturating_add(margin), &left)),
                };
            }
        };
        pool.install(|| split(0, workers, 1, &work));
    }

    /// Works on a list in parts, a thread each. All parts but the last are equally long: a multiple of `step`, and no
    /// shorter than `least`. `work` gets the number of the first of its part.
    pub(crate) fn in_parts<T: Send>(
        &self,
        list: &mut [T],
        (step, least): (usize, usize),
        work: impl Fn(usize, &mut [T]) + Sync,
    ) {
        let each = list.len().div_ceil(self.count()).max(least);
        let each = each.next_multiple_of(step.max(1));
        match &self.0 {
            Some(pool) if list.len() > each => pool.install(|| split(0, list, each, &work)),
            _ => work(0, list),
        }
    }
}

/// Things that no thread is working on.
struct Queue<'a, T>(Mutex<Vec<&'a mut T>>);

impl<'a, T> Queue<'a, T> {
    /// Takes out the thing for which most is left.
    fn take(&self, left: &impl Fn(&T) -> u32) -> Option<&'a mut T> {
        let mut queue = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let at = (0..queue.len()).max_by_key(|at| left(&*queue[*at]))?;
        Some(queue.swap_remove(at))
    }

    /// Puts one back in exchange for another, if at least `least` is left for that.
    fn exchange(&self, one: &'a mut T, least: u32, left: &impl Fn(&T) -> u32) -> &'a mut T {
        let mut queue = self.0.lock().unwrap_or_else(PoisonError::into_inner);
        let most = queue.iter_mut().max_by_key(|other| left(&***other));
        match most {
            Some(other) if left(&**other) >= least => core::mem::replace(other, one),
            _ => one,
        }
    }
}

/// Halves a list until each part is `each` long.
fn split<T: Send>(
    first: usize,
    list: &mut [T],
    each: usize,
    work: &(impl Fn(usize, &mut [T]) + Sync),
) {
    let parts = list.len().div_ceil(each);
    if parts <= 1 {
        return work(first, list);
    }
    let middle = parts / 2 * each;
    let (front, back) = list.split_at_mut(middle);
    rayon::join(
        || split(first, front, each, work),
        || split(first + middle, back, each, work),
    );
}
