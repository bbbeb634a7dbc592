# Debian packages by CPack: scripts/package makes them.
set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGE_NAME cursimeter)
set(CPACK_PACKAGE_CONTACT "The Cursimeter authors <cursimeter@example.org>")
set(CPACK_PACKAGE_HOMEPAGE_URL "")
set(CPACK_PACKAGE_DESCRIPTION_SUMMARY "${PROJECT_DESCRIPTION}")
set(CPACK_DEB_COMPONENT_INSTALL ON)
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_DEBIAN_PACKAGE_RELEASE 1)
set(CPACK_DEBIAN_PACKAGE_SECTION libdevel)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
set(CPACK_DEBIAN_PACKAGE_GENERATE_SHLIBS ON)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS_PRIVATE_DIRS ${PROJECT_BINARY_DIR}/src)
set(CPACK_STRIP_FILES ON)
set(CPACK_COMPONENTS_ALL tool library dev bindings)
set(version "(= ${PROJECT_VERSION}-${CPACK_DEBIAN_PACKAGE_RELEASE})")

set(CPACK_DEBIAN_TOOL_PACKAGE_NAME cursimeter)
set(CPACK_DEBIAN_TOOL_PACKAGE_SECTION devel)
set(CPACK_DEBIAN_TOOL_PACKAGE_DEPENDS fonts-dejavu-core)
set(CPACK_DEBIAN_TOOL_PACKAGE_RECOMMENDS "libgl1-mesa-dri, libegl1")
set(CPACK_COMPONENT_TOOL_DESCRIPTION "${PROJECT_DESCRIPTION}: the program
 It runs, checks, draws and explains charts, and opens a window to play them.
 The demo's charts, drills and course come with it.")

set(library libcursimeter${PROJECT_VERSION_MAJOR}.${PROJECT_VERSION_MINOR})
set(CPACK_DEBIAN_LIBRARY_PACKAGE_NAME ${library})
set(CPACK_DEBIAN_LIBRARY_PACKAGE_SECTION libs)
file(WRITE ${CMAKE_CURRENT_BINARY_DIR}/triggers "activate-noawait ldconfig\n")
set(CPACK_DEBIAN_LIBRARY_PACKAGE_CONTROL_EXTRA ${CMAKE_CURRENT_BINARY_DIR}/triggers)
set(CPACK_COMPONENT_LIBRARY_DESCRIPTION "${PROJECT_DESCRIPTION}: the shared library
 The C interface, for C and every language that can call it.")

set(CPACK_DEBIAN_DEV_PACKAGE_NAME libcursimeter-dev)
set(CPACK_DEBIAN_DEV_PACKAGE_SHLIBDEPS OFF)
set(CPACK_DEBIAN_DEV_PACKAGE_DEPENDS "${library} ${version}, libglm-dev")
set(CPACK_DEBIAN_DEV_PACKAGE_RECOMMENDS "libtomlplusplus-dev, libnlopt-dev, libsodium-dev, pkg-config, cmake")
set(CPACK_COMPONENT_DEV_DESCRIPTION "${PROJECT_DESCRIPTION}: development files
 Headers and static libraries for C++20, the C interface, CMake and pkg-config
 files, the manual.")

set(CPACK_DEBIAN_BINDINGS_PACKAGE_NAME cursimeter-bindings)
set(CPACK_DEBIAN_BINDINGS_PACKAGE_SECTION interpreters)
set(CPACK_DEBIAN_BINDINGS_PACKAGE_DEPENDS "${library} ${version}, python3")
set(CPACK_DEBIAN_BINDINGS_PACKAGE_RECOMMENDS "lua5.4, python3-cffi, python3-numpy")
set(CPACK_COMPONENT_BINDINGS_DESCRIPTION "${PROJECT_DESCRIPTION}: Lua 5.4 and Python 3
 Modules for scripts in games, and for runs, sweeps and figures in notebooks.")

# What every Debian package has.
set(changelog ${CMAKE_CURRENT_BINARY_DIR}/changelog.Debian)
string(TIMESTAMP today "%a, %d %b %Y %H:%M:%S +0000" UTC)
file(WRITE ${changelog} "cursimeter (${PROJECT_VERSION}-${CPACK_DEBIAN_PACKAGE_RELEASE}) unstable; urgency=medium

  * See changelog for what is in this version.

 -- ${CPACK_PACKAGE_CONTACT}  ${today}
")
find_program(GZIP gzip)
if(GZIP)
    execute_process(COMMAND ${GZIP} -9nf ${changelog})
    foreach(pair "tool;cursimeter" "library;${library}" "dev;libcursimeter-dev" "bindings;cursimeter-bindings")
        list(GET pair 0 component)
        list(GET pair 1 package)
        install(FILES LICENSE DESTINATION ${CMAKE_INSTALL_DATADIR}/doc/${package} RENAME copyright COMPONENT ${component})
        install(FILES ${changelog}.gz DESTINATION ${CMAKE_INSTALL_DATADIR}/doc/${package} COMPONENT ${component})
    endforeach()
endif()
install(DIRECTORY docs/ DESTINATION ${CMAKE_INSTALL_DATADIR}/doc/libcursimeter-dev/docs COMPONENT dev
        FILES_MATCHING PATTERN "*.md" PATTERN "*.png" PATTERN manual EXCLUDE)
# Where scripts/docs has made it.
install(DIRECTORY ${PROJECT_SOURCE_DIR}/build/manual/html/ DESTINATION ${CMAKE_INSTALL_DATADIR}/doc/libcursimeter-dev/manual
        COMPONENT dev OPTIONAL)
install(DIRECTORY examples/ DESTINATION ${CMAKE_INSTALL_DATADIR}/doc/libcursimeter-dev/examples COMPONENT dev)
install(DIRECTORY adapters/lua adapters/python DESTINATION ${CMAKE_INSTALL_DATADIR}/doc/cursimeter-bindings/examples
        COMPONENT bindings FILES_MATCHING PATTERN "*.lua" PATTERN "*.py" PATTERN cursimeter.py EXCLUDE PATTERN __pycache__ EXCLUDE)
include(CPack)
