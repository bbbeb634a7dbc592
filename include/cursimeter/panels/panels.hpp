#pragma once

#include <cursimeter/panels/network_graph.hpp>
#include <cursimeter/panels/readings.hpp>
#include <cursimeter/panels/sketch.hpp>
#include <cursimeter/panels/style.hpp>
#include <cursimeter/panels/time_panel.hpp>
#include <cursimeter/panels/timeline.hpp>
#include <cursimeter/panels/tuning_panel.hpp>

/// All panels. They need Dear ImGui (1.86 or later) and nothing else: no window, no graphics library. Each draws into the
/// ImGui window that is open, between `ImGui::Begin` and `ImGui::End`, and costs nothing while it is not called:
///
///     ImGui::Begin("runner");
///     panels::show_state(chart, runner, history);
///     panels::show_rank(chart, runner);
///     ImGui::End();
///
/// `history` is a tryout::History that is written in each tick, with no allocation.
