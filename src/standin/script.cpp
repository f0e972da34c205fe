#include "standin/script.h"

#include <QImage>
#include <QOffscreenSurface>
#include <QOpenGLContext>
#include <QOpenGLFramebufferObject>

#include "base/files.h"
#include "standin/harbour_view.h"

namespace rakugo::standin {
namespace {

constexpr int kWidth = 1280, kHeight = 800;

// A context without a window. `view` is null where there is no OpenGL.
struct Stage {
  QOffscreenSurface surface;
  QOpenGLContext context;
  std::unique_ptr<QOpenGLFramebufferObject> frame;
  std::unique_ptr<HarbourView> view;

  bool open() {
    context.setFormat(render::surfaceFormat());
    if (!context.create()) return false;
    surface.setFormat(context.format());
    surface.create();
    if (!surface.isValid() || !context.makeCurrent(&surface)) return false;
    render::Gl* gl = render::currentGl();
    if (gl == nullptr) return false;
    QOpenGLFramebufferObjectFormat frame_format;
    frame_format.setAttachment(QOpenGLFramebufferObject::Depth);
    frame_format.setSamples(4);
    frame = std::make_unique<QOpenGLFramebufferObject>(kWidth, kHeight, frame_format);
    view = std::make_unique<HarbourView>(gl);
    return frame->isValid();
  }
  ~Stage() {
    if (view) context.makeCurrent(&surface);
    view.reset();
    frame.reset();
  }
};

glm::vec3 vectorOf(base::JsonFields& in, const char* key, glm::vec3 fallback) {
  if (const auto v = in.numbers(key, 3)) return {(*v)[0], (*v)[1], (*v)[2]};
  return fallback;
}

}  // namespace

int runScript(const HeadlessOptions& options, const Game::Say& say) {
  Game game(options.mods, say);
  game.scan();
  const auto text = base::readFile(options.script, 4 << 20);
  if (!text) {
    say({"error", "script", options.script.string(), "", "", "", text.error().message});
    return 2;
  }
  Stage stage;
  const bool pictures = stage.open();
  if (!pictures)
    say({"warning", "no_display", "", "", "", "", "There is no OpenGL here; no pictures can be taken."});
  // Without a view the commands about looks still parse, into a view's place that nobody draws.
  float night = 0;
  int exit = 0;
  size_t at = 0;
  int number = 0;
  const std::string_view all = base::asText(*text);
  while (at < all.size()) {
    const size_t end = std::min(all.find('\n', at), all.size());
    const std::string_view line = all.substr(at, end - at);
    at = end + 1;
    ++number;
    if (line.find_first_not_of(" \t\r") == std::string_view::npos) continue;
    const std::string place = options.script.filename().string() + ":" + std::to_string(number);
    const auto json = base::parseJson(line, place);
    if (!json) {
      say({"error", "script", place, "", "", "", json.error().message});
      exit = 2;
      continue;
    }
    std::vector<base::Error> complaints;
    base::JsonFields in(*json, place, "", complaints);
    const std::string what = in.text("do");
    HarbourView* view = stage.view.get();
    if (what == "scan" || what == "reload") {
      game.scan();
    } else if (what == "day" || what == "night") {
      night = what == "day" ? 0.0F : static_cast<float>(std::clamp(in.number("value", 1), 0.0, 1.0));
      if (view != nullptr) view->night = night;
    } else if (what == "paint") {
      const glm::vec3 color = vectorOf(in, "color", {0.24F, 0.42F, 0.45F});
      if (view != nullptr) view->paint = glm::clamp(color, 0.0F, 1.0F);
    } else if (what == "place") {
      game.place(in.text("object"), vectorOf(in, "at", glm::vec3(0)),
                 static_cast<float>(in.number("turn_deg") * 3.14159265 / 180));
    } else if (what == "clear") {
      game.clearPlaced();
    } else if (what == "look") {
      if (view != nullptr) {
        view->camera.target = vectorOf(in, "at", view->camera.target);
        view->camera.distance_m =
            static_cast<float>(std::clamp(in.number("distance", view->camera.distance_m), 0.2, 200.0));
        view->camera.yaw_rad =
            static_cast<float>(in.number("yaw_deg", view->camera.yaw_rad * 57.29578) / 57.29578);
        view->camera.pitch_rad =
            static_cast<float>(in.number("pitch_deg", view->camera.pitch_rad * 57.29578) / 57.29578);
      }
    } else if (what == "frames") {
      for (int64_t i = 0; i < std::clamp<int64_t>(in.integer("count", 1), 0, 1000); ++i) {
        game.scan();
        if (view == nullptr) continue;
        view->time_s += 1.0F / 30;
        view->draw(game, stage.frame->handle(), kWidth, kHeight);
      }
    } else if (what == "shot") {
      const std::string file = in.text("file");
      bool saved = false;
      if (view != nullptr && base::isInnerPath(file)) {
        view->draw(game, stage.frame->handle(), kWidth, kHeight);
        saved = stage.frame->toImage()
                    .convertToFormat(QImage::Format_RGB32)
                    .save(QString::fromStdString((options.shots / file).string()));
      }
      say({saved ? "info" : "error", "shot", file, "", "", "",
           saved ? "Took " + file : "The picture " + file + " could not be taken."});
      if (!saved) exit = 2;
    } else {
      say({"error", "script", place, "", "", "", "The command \"" + what + "\" is not known."});
      exit = 2;
    }
    for (const base::Error& c : complaints) say({"error", "script", place, "", "", "", c.message});
  }
  return exit;
}

}  // namespace rakugo::standin
