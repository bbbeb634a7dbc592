// Nothing but the headers that all suites share (tests/CMakeLists.txt).
