//! Finishes what a large change of the map has left to do, a bounded part at a time.

use super::{ClearanceMap, Task};

impl ClearanceMap {
    /// Whether nothing is left that [`ClearanceMap::repair_in_parts`] has put off. Until then long ways are looked for from cell to cell,
    /// which takes longer, and a [`Planner`](crate::route::Planner) looks for none.
    #[must_use]
    pub fn is_finished(&self) -> bool {
        self.chart
            .as_ref()
            .is_none_or(|chart| chart.tasks().len() == 0)
    }

    /// Does what [`ClearanceMap::repair_in_parts`] has put off, for about `most` work: a step takes at most some thousand cells more.
    /// Gives the work, counted as in [`Repair::work`](super::Repair::work).
    ///
    /// ```
    /// use yarrick::ground::{Cell, ClearanceMap, Patch};
    /// use yarrick::scenario::Pattern;
    ///
    /// let mut ground = Pattern::Rooms.ground(512, 1);
    /// let mut clearance = ClearanceMap::new(&ground, 0.4);
    /// let wall = Patch::between(Cell::new(200, 0), Cell::new(201, 511));
    /// let changed = ground.block(wall.cells());
    /// clearance.repair_in_parts(&ground, changed);
    ///
    /// // The ground is cut in two at once. What follows takes its time.
    /// let mut ticks = 0;
    /// while !clearance.is_finished() {
    ///     assert!(clearance.finish(5000) < 15_000);
    ///     ticks += 1;
    /// }
    /// assert!(ticks > 2);
    /// ```
    pub fn finish(&mut self, most: u32) -> u32 {
        let Some(mut chart) = self.chart.take() else {
            return 0;
        };
        let work = chart.finish(self, most);
        self.chart = Some(chart);
        work
    }

    /// What is left to finish.
    pub(crate) fn tasks(&self) -> Vec<Task> {
        let charts = self.chart.iter();
        charts.flat_map(|chart| chart.tasks()).collect()
    }

    /// Sets what is left to finish.
    ///
    /// # Errors
    /// Tasks for what there is not on the map.
    pub(crate) fn set_tasks(&mut self, tasks: &[Task]) -> Result<(), &'static str> {
        match &mut self.chart {
            Some(chart) => chart.set_tasks(tasks),
            None if tasks.is_empty() => Ok(()),
            None => Err("tracts of a map that has none"),
        }
    }
}
