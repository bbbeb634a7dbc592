#include "fuzz/decoders/decoder.hpp"
#include "link/wire/exact_runner.hpp"

/// Whole runners: what is taken for one can be run, and written and read again.
extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    using namespace decoders;
    const auto* bytes = reinterpret_cast<const std::byte*>(data);
    link::wire::Reader reader({bytes, size});
    Runner runner = spawn(bearer_chart());
    if (!link::wire::read_runner(reader, bearer_chart(), runner)) {
        return 0;
    }
    Bytes buffer(1100);
    link::wire::Writer writer(buffer);
    link::wire::write_runner(writer, runner);
    link::wire::Reader again({buffer.data(), writer.finish()});
    Runner same;
    require(link::wire::read_runner(again, bearer_chart(), same) && digest(same) == digest(runner));
    Intent intent;
    intent.move = {1.0, 0.0};
    for (int i = 0; i < 3; ++i) {
        static_cast<void>(advance(bearer_chart(), runner, intent, Seconds{0.05}));
    }
    return 0;
}
