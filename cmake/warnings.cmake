# Everything that is built here carries the same warnings; installed targets pass none on.
add_library(cursimeter_warnings INTERFACE)
target_compile_options(cursimeter_warnings INTERFACE
    -Wall -Wextra -Wconversion -Wshadow
    $<$<BOOL:${CURSIMETER_WERROR}>:-Werror>)
