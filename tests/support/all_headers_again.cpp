#include <cursimeter/chartfile/chart_file.hpp>
#include <cursimeter/chartfile/drill_file.hpp>
#include <cursimeter/cursimeter.hpp>
#include <cursimeter/survey/run.hpp>
#include <cursimeter/survey/trace.hpp>

bool passes_self_test() {
    return cursimeter::numeric_self_test().ok();
}
