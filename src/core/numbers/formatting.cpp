// The parts of the library fmt that its header only declares, compiled once for all libraries here. They stand in a
// namespace of their own (FMT_BEGIN_NAMESPACE, set where the libraries are built), so that a game needs no fmt to
// link, and links another version of it without a clash. Compiled into every source instead, they tripled the time
// to build a source that formats a message.
#include <fmt/format-inl.h>

#ifndef FMT_HEADER_ONLY  // then they are in every source
FMT_BEGIN_NAMESPACE
namespace detail {

template FMT_API auto dragonbox::to_decimal(float) noexcept -> dragonbox::decimal_fp<float>;
template FMT_API auto dragonbox::to_decimal(double) noexcept -> dragonbox::decimal_fp<double>;
template FMT_API auto thousands_sep_impl(locale_ref) -> thousands_sep_result<char>;
template FMT_API auto decimal_point_impl(locale_ref) -> char;
template FMT_API void buffer<char>::append(const char*, const char*);
template FMT_API void vformat_to(buffer<char>&, string_view, basic_format_args<FMT_BUFFER_CONTEXT(char)>,
                                 locale_ref);

}  // namespace detail
FMT_END_NAMESPACE
#endif
