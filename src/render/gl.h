// The functions of OpenGL 3.3 that we call, looked up at run time: through Qt in a window, through EGL where
// there is no display.
#pragma once

#include <GL/gl.h>
#include <GL/glext.h>

#include <functional>
#include <optional>
#include <set>
#include <string>

namespace rakugo::render {

/// Result, name and arguments of each, as the OpenGL 3.3 core profile specification has them.
#define RAKUGO_GL_FUNCTIONS(F)                                                                             \
  F(void, glActiveTexture, (GLenum))                                                                       \
  F(void, glAttachShader, (GLuint, GLuint))                                                                \
  F(void, glBindBuffer, (GLenum, GLuint))                                                                  \
  F(void, glBindFramebuffer, (GLenum, GLuint))                                                             \
  F(void, glBindTexture, (GLenum, GLuint))                                                                 \
  F(void, glBindVertexArray, (GLuint))                                                                     \
  F(void, glBlendFunc, (GLenum, GLenum))                                                                   \
  F(void, glBlendFuncSeparate, (GLenum, GLenum, GLenum, GLenum))                                           \
  F(void, glBlitFramebuffer, (GLint, GLint, GLint, GLint, GLint, GLint, GLint, GLint, GLbitfield, GLenum)) \
  F(void, glBufferData, (GLenum, GLsizeiptr, const void*, GLenum))                                         \
  F(void, glClear, (GLbitfield))                                                                           \
  F(void, glClearColor, (GLfloat, GLfloat, GLfloat, GLfloat))                                              \
  F(void, glCompileShader, (GLuint))                                                                       \
  F(void, glCompressedTexImage2D, (GLenum, GLint, GLenum, GLsizei, GLsizei, GLint, GLsizei, const void*))  \
  F(GLuint, glCreateProgram, ())                                                                           \
  F(GLuint, glCreateShader, (GLenum))                                                                      \
  F(void, glDeleteBuffers, (GLsizei, const GLuint*))                                                       \
  F(void, glDeleteFramebuffers, (GLsizei, const GLuint*))                                                  \
  F(void, glDeleteProgram, (GLuint))                                                                       \
  F(void, glDeleteShader, (GLuint))                                                                        \
  F(void, glDeleteTextures, (GLsizei, const GLuint*))                                                      \
  F(void, glDeleteVertexArrays, (GLsizei, const GLuint*))                                                  \
  F(void, glDepthFunc, (GLenum))                                                                           \
  F(void, glDepthMask, (GLboolean))                                                                        \
  F(void, glDisable, (GLenum))                                                                             \
  F(void, glDisableVertexAttribArray, (GLuint))                                                            \
  F(void, glDrawArrays, (GLenum, GLint, GLsizei))                                                          \
  F(void, glDrawBuffer, (GLenum))                                                                          \
  F(void, glDrawBuffers, (GLsizei, const GLenum*))                                                         \
  F(void, glDrawElements, (GLenum, GLsizei, GLenum, const void*))                                          \
  F(void, glEnable, (GLenum))                                                                              \
  F(void, glEnableVertexAttribArray, (GLuint))                                                             \
  F(void, glFinish, ())                                                                                    \
  F(void, glFramebufferTexture2D, (GLenum, GLenum, GLenum, GLuint, GLint))                                 \
  F(void, glGenBuffers, (GLsizei, GLuint*))                                                                \
  F(void, glGenFramebuffers, (GLsizei, GLuint*))                                                           \
  F(void, glGenTextures, (GLsizei, GLuint*))                                                               \
  F(void, glGenVertexArrays, (GLsizei, GLuint*))                                                           \
  F(void, glGetIntegerv, (GLenum, GLint*))                                                                 \
  F(void, glGetProgramInfoLog, (GLuint, GLsizei, GLsizei*, GLchar*))                                       \
  F(void, glGetProgramiv, (GLuint, GLenum, GLint*))                                                        \
  F(void, glGetShaderInfoLog, (GLuint, GLsizei, GLsizei*, GLchar*))                                        \
  F(void, glGetShaderiv, (GLuint, GLenum, GLint*))                                                         \
  F(const GLubyte*, glGetString, (GLenum))                                                                 \
  F(const GLubyte*, glGetStringi, (GLenum, GLuint))                                                        \
  F(GLint, glGetUniformLocation, (GLuint, const GLchar*))                                                  \
  F(void, glLinkProgram, (GLuint))                                                                         \
  F(void, glPolygonOffset, (GLfloat, GLfloat))                                                             \
  F(void, glReadBuffer, (GLenum))                                                                          \
  F(void, glReadPixels, (GLint, GLint, GLsizei, GLsizei, GLenum, GLenum, void*))                           \
  F(void, glShaderSource, (GLuint, GLsizei, const GLchar* const*, const GLint*))                           \
  F(void, glTexBuffer, (GLenum, GLenum, GLuint))                                                           \
  F(void, glTexImage2D, (GLenum, GLint, GLint, GLsizei, GLsizei, GLint, GLenum, GLenum, const void*))      \
  F(void, glTexParameteri, (GLenum, GLenum, GLint))                                                        \
  F(void, glUniform1f, (GLint, GLfloat))                                                                   \
  F(void, glUniform1i, (GLint, GLint))                                                                     \
  F(void, glUniform2f, (GLint, GLfloat, GLfloat))                                                          \
  F(void, glUniform3f, (GLint, GLfloat, GLfloat, GLfloat))                                                 \
  F(void, glUniform4f, (GLint, GLfloat, GLfloat, GLfloat, GLfloat))                                        \
  F(void, glUniformMatrix4fv, (GLint, GLsizei, GLboolean, const GLfloat*))                                 \
  F(void, glUseProgram, (GLuint))                                                                          \
  F(void, glVertexAttrib2f, (GLuint, GLfloat, GLfloat))                                                    \
  F(void, glVertexAttrib4f, (GLuint, GLfloat, GLfloat, GLfloat, GLfloat))                                  \
  F(void, glVertexAttribI4ui, (GLuint, GLuint, GLuint, GLuint, GLuint))                                    \
  F(void, glVertexAttribIPointer, (GLuint, GLint, GLenum, GLsizei, const void*))                           \
  F(void, glVertexAttribPointer, (GLuint, GLint, GLenum, GLboolean, GLsizei, const void*))                 \
  F(void, glViewport, (GLint, GLint, GLsizei, GLsizei))

/// Of the context that is current whenever one of them is called.
struct Gl {
#define RAKUGO_GL_MEMBER(result, name, arguments) result(*name) arguments = nullptr;
  RAKUGO_GL_FUNCTIONS(RAKUGO_GL_MEMBER)
#undef RAKUGO_GL_MEMBER
  std::set<std::string> extensions;  ///< of the context that was current as they were looked up
};

/// Gives the address of a function by its name, or null.
using FindFunction = std::function<void*(const char* name)>;
/// All of them, with a context current. Nothing where one is missing, or the context is older than 3.3.
std::optional<Gl> lookUpGl(const FindFunction& find);

}  // namespace rakugo::render
