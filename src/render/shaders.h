// GLSL sources. Internal to render.
#pragma once

namespace rakugo::render::glsl {

inline constexpr const char* kMeshVertex = R"(#version 330 core
layout(location=0) in vec3 position; layout(location=1) in vec3 normal; layout(location=3) in vec2 uv0; layout(location=4) in vec2 uv1; layout(location=5) in vec4 color;
layout(location=6) in uvec4 joints; layout(location=7) in vec4 weights;
uniform samplerBuffer bones; uniform int bent; uniform int weights_of;
uniform mat4 model; uniform mat4 view_projection; uniform mat4 shadow_matrix;
out vec3 world; out vec3 world_normal; out vec2 uv; out vec2 uv_second; out vec4 tone; out vec4 in_shadow_space; out float share;
mat4 boneAt(uint i) {
  int t = int(i) * 4;
  return mat4(texelFetch(bones, t), texelFetch(bones, t + 1), texelFetch(bones, t + 2), texelFetch(bones, t + 3));
}
void main() {
  mat4 place = model;
  if (bent == 1)
    place = model * (boneAt(joints.x) * weights.x + boneAt(joints.y) * weights.y + boneAt(joints.z) * weights.z + boneAt(joints.w) * weights.w);
  share = dot(vec4(equal(ivec4(joints), ivec4(weights_of))), weights);
  vec4 w = place * vec4(position, 1.0);
  world = w.xyz;
  world_normal = transpose(inverse(mat3(place))) * normal;
  uv = uv0; uv_second = uv1; tone = color;
  in_shadow_space = shadow_matrix * w;
  gl_Position = view_projection * w;
})";

// Metallic-roughness with one sun, sky and ground light, eight lamps, fog; GGX as in glTF 2.0, appendix B.
inline constexpr const char* kLitFragment = R"(#version 330 core
in vec3 world; in vec3 world_normal; in vec2 uv; in vec2 uv_second; in vec4 tone; in vec4 in_shadow_space;
out vec4 result;
uniform vec3 eye; uniform vec4 cut; uniform int has_cut; uniform float opacity; uniform vec4 base; uniform float metallic; uniform float roughness; uniform vec3 emissive; uniform float cutoff;
uniform sampler2D base_map; uniform int has_base; uniform sampler2D mr_map; uniform int has_mr; uniform sampler2D normal_map; uniform int has_normal; uniform sampler2D emissive_map; uniform int has_emissive;
uniform sampler2D occlusion_map; uniform int has_occlusion; uniform float occlusion_strength; uniform int unlit;
// How each picture is looked up: base colour, metal and roughness, normal, occlusion, glow.
uniform int sets[5]; uniform vec3 rows[10];
vec2 at(int i) { vec3 c = vec3(sets[i] == 1 ? uv_second : uv, 1.0); return vec2(dot(rows[i * 2], c), dot(rows[i * 2 + 1], c)); }
uniform float normal_scale; uniform int normal_of_two; uniform int blend; uniform float selected;
uniform vec3 sun_direction; uniform vec3 sun; uniform vec3 sky; uniform vec3 ground; uniform vec3 fog; uniform float fog_density; uniform vec3 up;
uniform sampler2D shadow_map; uniform int has_shadow; uniform float shadow_texel;
// Of each light: its direction and the cosine of half its cone; the cosine from where it fades, and its reach.
uniform int light_count; uniform vec3 light_position[8]; uniform vec3 light_color[8]; uniform vec4 light_beam[8]; uniform vec2 light_end[8];
vec3 bumped(vec3 n) {
  if (has_normal == 0) return n;
  vec2 uvn = at(2);
  vec3 dp1 = dFdx(world), dp2 = dFdy(world); vec2 duv1 = dFdx(uvn), duv2 = dFdy(uvn);
  vec3 t = dp1 * duv2.y - dp2 * duv1.y; vec3 b = dp2 * duv1.x - dp1 * duv2.x;
  float s = inversesqrt(max(max(dot(t,t), dot(b,b)), 1e-20));
  vec3 m = texture(normal_map, uvn).xyz * 2.0 - 1.0;
  if (normal_of_two == 1) m.z = sqrt(max(0.0, 1.0 - dot(m.xy, m.xy)));
  m.xy *= normal_scale;
  return normalize(t * s * m.x - b * s * m.y + n * m.z);
}
float sunlight() {
  if (has_shadow == 0) return 1.0;
  vec3 p = in_shadow_space.xyz / in_shadow_space.w * 0.5 + 0.5;
  if (p.z > 1.0 || any(lessThan(p.xy, vec2(0.0))) || any(greaterThan(p.xy, vec2(1.0)))) return 1.0;
  float light = 0.0;
  for (int x = -1; x <= 1; ++x) for (int y = -1; y <= 1; ++y)
    light += texture(shadow_map, p.xy + vec2(x, y) * shadow_texel).r + 0.0018 < p.z ? 0.0 : 1.0;
  return light / 9.0;
}
vec3 lightFrom(vec3 l, vec3 strength, vec3 n, vec3 v, vec3 albedo, vec3 f0, float a) {
  float nl = max(dot(n, l), 0.0);
  if (nl <= 0.0) return vec3(0.0);
  vec3 h = normalize(l + v);
  float nv = max(dot(n, v), 1e-3), nh = max(dot(n, h), 0.0), vh = max(dot(v, h), 0.0);
  float a2 = a * a, d = nh * nh * (a2 - 1.0) + 1.0;
  float k = (a + 1.0) * (a + 1.0) / 8.0;
  float g = 1.0 / ((nl * (1.0 - k) + k) * (nv * (1.0 - k) + k));
  vec3 f = f0 + (1.0 - f0) * pow(clamp(1.0 - vh, 0.0, 1.0), 5.0);
  vec3 specular = f * (a2 / max(3.14159 * d * d, 1e-4)) * g * 0.25;
  return ((1.0 - f) * albedo / 3.14159 + specular) * strength * nl;
}
void main() {
  if (has_cut == 1 && dot(cut, vec4(world, 1.0)) > 0.0) discard;
  vec4 c = base * tone;
  if (has_base == 1) c *= texture(base_map, at(0));
  if (c.a < cutoff) discard;
  if (unlit == 1) {
    vec3 plain = mix(c.rgb + emissive, fog, 1.0 - exp(-fog_density * length(eye - world)));
    plain = clamp(mix(plain, vec3(0.10, 0.22, 0.60), selected * 0.35), 0.0, 1.0);
    result = vec4(mix(plain * 12.92, 1.055 * pow(plain, vec3(1.0 / 2.4)) - 0.055, step(0.0031308, plain)), (blend == 1 ? c.a : 1.0) * opacity);
    return;
  }
  float rough = roughness, metal = metallic;
  if (has_mr == 1) { vec4 m = texture(mr_map, at(1)); rough *= m.g; metal *= m.b; }
  rough = clamp(rough, 0.0, 1.0);
  vec3 v = normalize(eye - world);
  vec3 n = normalize(world_normal);
  if (!gl_FrontFacing) n = -n;
  n = bumped(n);
  vec3 f0 = mix(vec3(0.04), c.rgb, metal), albedo = c.rgb * (1.0 - metal);
  float a = max(rough * rough, 0.02);
  float height = dot(n, up) * 0.5 + 0.5;
  vec3 around = mix(ground, sky, height);
  vec3 r = reflect(-v, n);
  vec3 mirrored = mix(ground, sky * 1.25, smoothstep(-0.25 - rough, 0.35 + rough, dot(r, up)));
  vec3 fresnel = f0 + (max(vec3(1.0 - rough), f0) - f0) * pow(clamp(1.0 - dot(n, v), 0.0, 1.0), 5.0);
  // Occlusion keeps off what comes from all round, not what comes straight (glTF 2.0, section 3.9.3).
  float open = has_occlusion == 1 ? 1.0 + occlusion_strength * (texture(occlusion_map, at(3)).r - 1.0) : 1.0;
  vec3 light = (around * albedo + mirrored * fresnel * (1.0 - 0.5 * rough)) * open;
  light += lightFrom(sun_direction, sun, n, v, albedo, f0, a) * sunlight();
  for (int i = 0; i < light_count; ++i) {
    vec3 to = light_position[i] - world; float d2 = dot(to, to); vec3 l = to * inversesqrt(d2);
    float share = 1.0, reach = light_end[i].y;
    if (light_beam[i].xyz != vec3(0.0)) { share = clamp((dot(light_beam[i].xyz, -l) - light_beam[i].w) / max(0.001, light_end[i].x - light_beam[i].w), 0.0, 1.0); share *= share; }
    if (reach > 0.0) { float far = d2 / (reach * reach); share *= clamp(1.0 - far * far, 0.0, 1.0); }
    light += lightFrom(l, light_color[i] * share / (d2 + 0.06), n, v, albedo, f0, a);
  }
  vec3 e = emissive;
  if (has_emissive == 1) e *= texture(emissive_map, at(4)).rgb;
  light += e;
  float away = 1.0 - exp(-fog_density * length(eye - world));
  light = mix(light, fog, away);
  light = mix(light, vec3(0.10, 0.22, 0.60), selected * 0.35);
  light *= 0.62; light = clamp((light * (2.51 * light + 0.03)) / (light * (2.43 * light + 0.59) + 0.14), 0.0, 1.0);
  vec3 srgb = mix(light * 12.92, 1.055 * pow(max(light, 0.0), vec3(1.0 / 2.4)) - 0.055, step(0.0031308, light));
  float alpha = blend == 1 ? clamp(c.a + dot(fresnel, vec3(0.33)) + dot(e, vec3(0.1)), 0.0, 1.0) : 1.0;
  result = vec4(srgb, alpha * opacity);
})";

inline constexpr const char* kDepthFragment = R"(#version 330 core
in vec3 world; in vec2 uv; in vec4 tone;
uniform vec4 cut; uniform int has_cut;
void main() { if (has_cut == 1 && dot(cut, vec4(world, 1.0)) > 0.0) discard; })";

inline constexpr const char* kGbufferFragment = R"(#version 330 core
in vec3 world; in vec3 world_normal; in vec2 uv; in vec2 uv_second; in vec4 tone; in float share;
uniform int weights_of; uniform int sets[5]; uniform vec3 rows[10];
vec2 at(int i) { vec3 c = vec3(sets[i] == 1 ? uv_second : uv, 1.0); return vec2(dot(rows[i * 2], c), dot(rows[i * 2 + 1], c)); }
layout(location=0) out vec4 wash; layout(location=1) out vec4 form;
uniform vec4 base; uniform sampler2D base_map; uniform int has_base; uniform float cutoff; uniform vec3 eye; uniform float part; uniform float selected; uniform float pointed;
uniform vec4 cut; uniform int has_cut;
void main() {
  if (has_cut == 1 && dot(cut, vec4(world, 1.0)) > 0.0) discard;
  vec4 c = base * tone;
  if (has_base == 1) c *= texture(base_map, at(0));
  if (c.a < cutoff) discard;
  vec3 srgb = pow(max(c.rgb, 0.0), vec3(1.0 / 2.2));
  if (weights_of >= 0) {
    // Quarters, with a line where one ends; as weightColor gives them.
    float quarter = ceil(clamp(share, 0.0, 1.0) * 4.0) / 4.0;
    srgb = share > 0.002 ? mix(vec3(0.96, 0.87, 0.66), vec3(0.42, 0.16, 0.36), (quarter - 0.25) / 0.75) : vec3(1.0);
    float line = abs(fract(share * 4.0 - 0.5) - 0.5) / max(fwidth(share * 4.0), 1e-4);
    if (share > 0.02 && share < 0.98 && line < 0.8) srgb *= 0.55;
  }
  vec3 n = normalize(world_normal);
  if (!gl_FrontFacing) n = -n;
  // Of what is cut open the inside is let down, so that it is told from the outside.
  if (has_cut == 1 && !gl_FrontFacing) srgb = mix(srgb, vec3(0.5), 0.55);
  wash = vec4(srgb, (selected > 0.5 ? 0.8 : 0.4) + (pointed > 0.5 ? 0.2 : 0.0));
  form = vec4(n + vec3(part), length(eye - world));
})";

inline constexpr const char* kFullVertex = R"(#version 330 core
out vec2 at;
void main() { at = vec2((gl_VertexID << 1) & 2, gl_VertexID & 2); gl_Position = vec4(at * 2.0 - 1.0, 0.0, 1.0); })";

// The same at the far end of the depth range.
inline constexpr const char* kSkyVertex = R"(#version 330 core
out vec2 at;
void main() { at = vec2((gl_VertexID << 1) & 2, gl_VertexID & 2); gl_Position = vec4(at * 2.0 - 1.0, 1.0, 1.0); })";

// A picture as it is.
inline constexpr const char* kCopyFragment = R"(#version 330 core
in vec2 at; out vec4 result; uniform sampler2D picture;
void main() { result = texture(picture, at); })";

// Ink where depth, direction or part changes between neighbouring pixels; washes are the colours let down
// with paper.
inline constexpr const char* kCompositeFragment = R"(#version 330 core
in vec2 at; out vec4 result;
uniform sampler2D wash; uniform sampler2D form; uniform sampler2D ghost; uniform sampler2D through; uniform int has_through; uniform vec2 texel; uniform vec3 sheet; uniform vec3 ink; uniform vec3 accent; uniform vec3 light; uniform float scale; uniform int ghost_style;
vec2 edgeOf(sampler2D f, float width) {
  vec4 c = texture(f, at);
  float crease = 0.0, outline = 0.0;
  for (int i = 0; i < 8; ++i) {
    float angle = float(i) * 0.7853982;
    vec4 o = texture(f, at + vec2(cos(angle), sin(angle)) * texel * width);
    bool here = c.w > 0.0, there = o.w > 0.0;
    if (here != there) { outline += 1.0; continue; }
    if (!here) continue;
    float step_depth = abs(c.w - o.w) / min(c.w, o.w);
    float turn = length(c.xyz - o.xyz);
    outline += smoothstep(0.03, 0.07, step_depth);
    crease += smoothstep(0.45, 0.9, turn);
  }
  return vec2(outline, crease) / 8.0;
}
// What is let through: its lines, and a breath of its surface.
float throughShade() {
  vec2 e = edgeOf(through, 0.75 * scale);
  return max(texture(through, at).w > 0.0 ? 0.07 : 0.0, clamp(e.x * 1.5 + e.y * 0.6, 0.0, 1.0) * 0.45);
}
void main() {
  vec4 c = texture(wash, at); vec4 f = texture(form, at); vec4 g = texture(ghost, at);
  // 0.4, 0.6, 0.8 and 1 by whether the part is pointed at, selected, or both.
  bool selected = c.a > 0.7, pointed = (c.a > 0.5 && c.a < 0.7) || c.a > 0.9;
  vec2 e = edgeOf(form, (pointed ? 1.9 : 0.75) * scale);
  float line = clamp(e.x * 1.7 + e.y * 0.65, 0.0, 1.0);
  if (f.w > 0.0) {
    vec3 n = f.xyz - vec3(floor((f.x + 1.5) / 4.0) * 4.0);
    float lit = clamp(dot(normalize(n), light) * 0.5 + 0.5, 0.0, 1.0);
    vec3 color = mix(sheet, c.rgb, 0.62) * mix(0.66, 1.04, lit);
    if (selected) color = mix(color, accent, 0.28);
    // A few strokes in the deepest shade, as a pen would put them.
    float stroke = smoothstep(0.55, 0.8, abs(fract((gl_FragCoord.x + gl_FragCoord.y) / (5.0 * scale)) - 0.5) * 2.0);
    color *= 1.0 - 0.16 * stroke * smoothstep(0.42, 0.2, lit);
    if (ghost_style != 0 && ghost_style == 2 && g.w > 0.0) color = mix(color, accent, 0.30);
    if (ghost_style != 0) line = max(line, clamp(edgeOf(ghost, 0.8 * scale).x * 1.2, 0.0, 1.0) * 0.75);
    color = mix(color, pointed ? accent : selected ? accent * 0.8 : ink, line * 0.9);
    if (has_through == 1) color = mix(color, ink, throughShade());
    result = vec4(color, 1.0);
    return;
  }
  float shade = 0.0;
  if (g.w > 0.0 && ghost_style == 2) shade = 0.16;
  if (g.w > 0.0 && ghost_style == 0) {
    float hatch = abs(fract((gl_FragCoord.x - gl_FragCoord.y) / (9.0 * scale)) - 0.5) * 2.0;
    shade = smoothstep(0.80, 0.92, hatch) * 0.30 + 0.035;
  }
  vec2 ge = edgeOf(ghost, 0.8 * scale);
  shade = max(shade, clamp(ge.x * 1.2 + ge.y * 0.35, 0.0, 1.0) * 0.5);
  if (has_through == 1) shade = max(shade, throughShade());
  float alpha = max(line * 0.9, shade);
  if (alpha < 0.004) discard;
  result = vec4(ink, alpha);
})";

inline constexpr const char* kSkyFragment = R"(#version 330 core
in vec2 at; out vec4 result;
uniform mat4 back; uniform vec3 eye; uniform vec3 sun_direction; uniform vec3 sun; uniform vec3 sky; uniform vec3 fog; uniform vec3 up; uniform float night;
float hash(vec3 p) { p = fract(p * 0.3183099 + 0.1); p *= 17.0; return fract(p.x * p.y * p.z * (p.x + p.y + p.z)); }
float noise(vec2 p) {
  vec2 i = floor(p), f = fract(p); f = f * f * (3.0 - 2.0 * f);
  float a = hash(vec3(i, 1.0)), b = hash(vec3(i + vec2(1, 0), 1.0)), c = hash(vec3(i + vec2(0, 1), 1.0)), d = hash(vec3(i + vec2(1, 1), 1.0));
  return mix(mix(a, b, f.x), mix(c, d, f.x), f.y);
}
void main() {
  vec4 far = back * vec4(at * 2.0 - 1.0, 1.0, 1.0);
  vec3 d = normalize(far.xyz / far.w - eye);
  float h = dot(d, up);
  vec3 color = mix(fog, sky * 0.9, smoothstep(0.0, 0.5, h));
  vec2 flat_ = (d - up * h).xy / max(h + 0.12, 0.05);
  float cloud = noise(flat_ * 1.3) * 0.5 + noise(flat_ * 2.9 + 4.0) * 0.3 + noise(flat_ * 6.1 + 9.0) * 0.2;
  cloud = smoothstep(0.52, 0.78, cloud) * smoothstep(0.02, 0.22, h);
  color = mix(color, mix(vec3(1.05, 1.02, 0.98), fog * 1.4 + 0.01, night), cloud * mix(0.75, 0.35, night));
  float near_sun = max(dot(d, sun_direction), 0.0);
  color += sun * (pow(near_sun, 900.0) * 1.6 + pow(near_sun, 24.0) * 0.06);
  vec3 cell = floor(d * 170.0);
  // Round points well inside their cells, and only once it is truly dark.
  float point = smoothstep(0.32, 0.08, length(fract(d * 170.0) - 0.5));
  float star = step(0.9976, hash(cell)) * point * smoothstep(0.05, 0.3, h) * smoothstep(0.6, 1.0, night) * (1.0 - cloud);
  color += star * vec3(0.75, 0.8, 0.9) * hash(cell + 3.0);
  color *= 0.62; color = clamp((color * (2.51 * color + 0.03)) / (color * (2.43 * color + 0.59) + 0.14), 0.0, 1.0);
  result = vec4(pow(max(color, 0.0), vec3(1.0 / 2.2)), 1.0);
})";

// The shine round a lamp: a square that faces the eye, added to what is there.
inline constexpr const char* kHaloVertex = R"(#version 330 core
uniform mat4 view; uniform mat4 projection; uniform vec3 center; uniform float radius;
out vec2 at;
void main() {
  at = vec2((gl_VertexID & 1) * 2 - 1, (gl_VertexID >> 1) * 2 - 1);
  vec4 p = view * vec4(center, 1.0);
  // A little towards the eye, so that the lamp's own glass does not cut it.
  p.xyz += vec3(at * radius, 0.0) - normalize(p.xyz) * radius * 0.25;
  gl_Position = projection * p;
})";

inline constexpr const char* kHaloFragment = R"(#version 330 core
in vec2 at; uniform vec3 tone; out vec4 result;
void main() {
  float d = length(at);
  float shine = exp(-d * d * 26.0) * 0.85 + exp(-d * 4.2) * 0.34;
  result = vec4(tone * shine * smoothstep(1.0, 0.7, d), 0.0);
})";

// A soft round spot that faces the eye.
inline constexpr const char* kParticleVertex = R"(#version 330 core
layout(location=0) in vec3 center; layout(location=1) in float radius; layout(location=2) in vec4 color; layout(location=3) in vec2 corner; layout(location=4) in float glow;
uniform mat4 view; uniform mat4 projection;
out vec2 at; out vec4 tone; out float shines;
void main() {
  at = corner; tone = color; shines = glow;
  vec4 p = view * vec4(center, 1.0);
  p.xy += corner * radius;
  gl_Position = projection * p;
})";

inline constexpr const char* kParticleFragment = R"(#version 330 core
in vec2 at; in vec4 tone; in float shines; uniform vec3 around; out vec4 result;
void main() {
  float d = length(at);
  float a = tone.a * smoothstep(1.0, mix(0.15, 0.0, shines), d);
  if (a < 0.003) discard;
  vec3 light = tone.rgb * mix(around, vec3(2.2), shines);
  light *= 0.62; light = clamp((light * (2.51 * light + 0.03)) / (light * (2.43 * light + 0.59) + 0.14), 0.0, 1.0);
  vec3 srgb = mix(light * 12.92, 1.055 * pow(max(light, 0.0), vec3(1.0 / 2.4)) - 0.055, step(0.0031308, light));
  result = vec4(srgb * a, a * (1.0 - shines));
})";

// Each line is six vertices; `corner` tells which end and side, the width is in pixels.
inline constexpr const char* kLineVertex = R"(#version 330 core
layout(location=0) in vec3 a; layout(location=1) in vec3 b; layout(location=2) in vec4 color; layout(location=3) in vec2 corner;
uniform mat4 view_projection; uniform vec2 viewport; uniform float width;
out vec4 tone; out float across;
void main() {
  vec4 pa = view_projection * vec4(a, 1.0), pb = view_projection * vec4(b, 1.0);
  float near = 1e-4;
  if (pa.w < near && pb.w >= near) pa = mix(pb, pa, (pb.w - near) / (pb.w - pa.w));
  if (pb.w < near && pa.w >= near) pb = mix(pa, pb, (pa.w - near) / (pa.w - pb.w));
  vec2 sa = pa.xy / pa.w * viewport, sb = pb.xy / pb.w * viewport;
  vec2 dir = sb - sa; float len = length(dir); dir = len > 1e-5 ? dir / len : vec2(1.0, 0.0);
  vec2 n = vec2(-dir.y, dir.x);
  vec4 p = corner.x < 0.5 ? pa : pb;
  p.xy += (n * corner.y * (width + 1.0)) / viewport * p.w;
  tone = color; across = corner.y * (width + 1.0) * 0.5;
  gl_Position = p;
})";

inline constexpr const char* kLineFragment = R"(#version 330 core
in vec4 tone; in float across; uniform float width; out vec4 result;
void main() { result = vec4(tone.rgb, tone.a * clamp(width * 0.5 + 0.5 - abs(across), 0.0, 1.0)); })";

}  // namespace rakugo::render::glsl
