# What "cmake --install" puts where, and the Debian package made of it ("cpack -G DEB").
install(TARGETS rakugo rakugo-tool rakugo-icon kelpwick RUNTIME DESTINATION ${CMAKE_INSTALL_BINDIR})
install(DIRECTORY rulebooks DESTINATION ${CMAKE_INSTALL_DATADIR}/rakugo)
install(DIRECTORY examples/mods/ DESTINATION ${CMAKE_INSTALL_DATADIR}/rakugo/examples PATTERN build EXCLUDE)
set(packaging ${PROJECT_SOURCE_DIR}/packaging)
install(FILES ${packaging}/rakugo.desktop DESTINATION ${CMAKE_INSTALL_DATADIR}/applications)
install(FILES ${packaging}/rakugo-mime.xml DESTINATION ${CMAKE_INSTALL_DATADIR}/mime/packages RENAME rakugo.xml)
install(FILES ${packaging}/example.rakugo.Rakugo.metainfo.xml DESTINATION ${CMAKE_INSTALL_DATADIR}/metainfo)
install(FILES src/app/icons/rakugo.svg DESTINATION ${CMAKE_INSTALL_DATADIR}/icons/hicolor/scalable/apps)
install(FILES ${packaging}/application-x-rakugo-bundle.svg ${packaging}/application-x-rakugo-mod.svg
  DESTINATION ${CMAKE_INSTALL_DATADIR}/icons/hicolor/scalable/mimetypes)
install(FILES ${packaging}/rakugo-tool.bash DESTINATION ${CMAKE_INSTALL_DATADIR}/bash-completion/completions
  RENAME rakugo-tool)
install(FILES LICENSE DESTINATION ${CMAKE_INSTALL_DOCDIR} RENAME copyright)
install(FILES README.md docs/bundle-format.md docs/checks.md docs/game-link.md docs/mod-folder.md docs/rulebook.md
  docs/zip-package.md DESTINATION ${CMAKE_INSTALL_DOCDIR})
# Manual pages and the changelog travel packed; -n leaves the time out, so that equal input gives equal bytes.
find_program(GZIP gzip REQUIRED)
foreach(page rakugo.1 rakugo-tool.1 rakugo-icon.1 kelpwick.1)
  add_custom_command(OUTPUT ${PROJECT_BINARY_DIR}/${page}.gz DEPENDS ${packaging}/man/${page}
    COMMAND ${GZIP} -9nc ${packaging}/man/${page} > ${PROJECT_BINARY_DIR}/${page}.gz VERBATIM)
  list(APPEND packed ${PROJECT_BINARY_DIR}/${page}.gz)
endforeach()
add_custom_command(OUTPUT ${PROJECT_BINARY_DIR}/NEWS.gz DEPENDS ${PROJECT_SOURCE_DIR}/CHANGELOG.md
  COMMAND ${GZIP} -9nc ${PROJECT_SOURCE_DIR}/CHANGELOG.md > ${PROJECT_BINARY_DIR}/NEWS.gz VERBATIM)
add_custom_target(packed-pages ALL DEPENDS ${packed} ${PROJECT_BINARY_DIR}/NEWS.gz)
install(FILES ${packed} DESTINATION ${CMAKE_INSTALL_MANDIR}/man1)
install(FILES ${PROJECT_BINARY_DIR}/NEWS.gz DESTINATION ${CMAKE_INSTALL_DOCDIR})
install(FILES ${packaging}/lintian-overrides DESTINATION ${CMAKE_INSTALL_DATADIR}/lintian/overrides RENAME rakugo)

set(CPACK_PACKAGE_NAME rakugo)
set(CPACK_PACKAGE_VENDOR "The Rakugo authors")
set(CPACK_PACKAGE_CONTACT "The Rakugo authors <rakugo@rakugo.example>")
set(CPACK_PACKAGE_VERSION ${PROJECT_VERSION})
set(CPACK_PACKAGING_INSTALL_PREFIX /usr)
set(CPACK_STRIP_FILES ON)
set(CPACK_PACKAGE_DIRECTORY ${PROJECT_BINARY_DIR})
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_DEBIAN_PACKAGE_SECTION graphics)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
set(CPACK_DEBIAN_PACKAGE_DEPENDS "fonts-lato")
set(CPACK_DEBIAN_PACKAGE_RECOMMENDS "qt6-wayland")
set(CPACK_PACKAGE_DESCRIPTION_SUMMARY "prepare 3D models for games, check them, build mods")
set(CPACK_DEBIAN_PACKAGE_DESCRIPTION "Rakugo takes a model as a general 3D program exported it, prepares it in steps
that can be changed and replayed, holds it against the rules of one game, and
builds it into a bundle that the game loads. What a game would only show after
it was started is said beforehand, with the place and the cure.

With it come a command line tool and a small stand-in game to try mods in.")
set(CPACK_INSTALL_DEFAULT_DIRECTORY_PERMISSIONS OWNER_READ OWNER_WRITE OWNER_EXECUTE GROUP_READ GROUP_EXECUTE
  WORLD_READ WORLD_EXECUTE)
include(CPack)
