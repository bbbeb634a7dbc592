#pragma once

/// Everything that a game needs each tick. Charts from files: cursimeter/chartfile/chart_file.hpp.
#include <cursimeter/advance.hpp>
#include <cursimeter/chart.hpp>
#include <cursimeter/chart_spec.hpp>
#include <cursimeter/crowd.hpp>
#include <cursimeter/diagnostics.hpp>
#include <cursimeter/effects.hpp>
#include <cursimeter/foresee.hpp>
#include <cursimeter/ids.hpp>
#include <cursimeter/intent.hpp>
#include <cursimeter/numbers/numeric_self_test.hpp>
#include <cursimeter/reload.hpp>
#include <cursimeter/report.hpp>
#include <cursimeter/runner.hpp>
#include <cursimeter/saved_runner.hpp>
#include <cursimeter/settle.hpp>
#include <cursimeter/show/blend.hpp>
#include <cursimeter/show/body_facing.hpp>
#include <cursimeter/show/lock_on.hpp>
#include <cursimeter/show/observers.hpp>
#include <cursimeter/show/present.hpp>
#include <cursimeter/show/smoothed.hpp>
#include <cursimeter/terrain.hpp>
#include <cursimeter/units.hpp>
#include <cursimeter/version.hpp>
