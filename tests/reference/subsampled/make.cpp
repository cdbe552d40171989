// Writes the subsampled files beside it with the OpenEXR library itself (Debian's libopenexr-dev), and the samples that
// library reads back: g++ make.cpp -lOpenEXR -lImath -o make && ./make
#include <ImfChannelList.h>
#include <ImfFrameBuffer.h>
#include <ImfHeader.h>
#include <ImfInputFile.h>
#include <ImfOutputFile.h>
#include <cmath>
#include <cstdint>
#include <fstream>
#include <string>
#include <vector>
using namespace Imf;
using namespace Imath;

struct Plane { const char *name; PixelType type; int sampling; size_t size; std::vector<char> bytes; };

static void place(FrameBuffer &frame, std::vector<Plane> &planes, const Box2i &w) {
  for (auto &p : planes) {
    int nx = (w.max.x - w.min.x) / p.sampling + 1;
    size_t row = nx * p.size;
    char *base = p.bytes.data() - (w.min.x / p.sampling) * p.size - (w.min.y / p.sampling) * row;
    frame.insert(p.name, Slice(p.type, base, p.size, row, p.sampling, p.sampling));
  }
}

int main() {
  const Box2i window(V2i(4, 2), V2i(41, 65));
  const int width = 38, height = 64;
  const std::vector<std::pair<const char *, Compression>> all = {
      {"none", NO_COMPRESSION}, {"zip", ZIP_COMPRESSION},   {"piz", PIZ_COMPRESSION}, {"pxr24", PXR24_COMPRESSION},
      {"b44", B44_COMPRESSION}, {"b44a", B44A_COMPRESSION}, {"dwaa", DWAA_COMPRESSION}};
  for (auto &[name, compression] : all) {
    std::vector<Plane> planes = {{"BY", HALF, 2, 2, {}}, {"RY", HALF, 2, 2, {}}, {"Y", HALF, 1, 2, {}},
                                 {"far.Z", FLOAT, 1, 4, {}}, {"object.id", UINT, 1, 4, {}}};
    for (auto &p : planes) {
      int nx = width / p.sampling, ny = height / p.sampling;
      p.bytes.resize(nx * ny * p.size);
      for (int y = 0; y < ny; y++)
        for (int x = 0; x < nx; x++) {
          float v = 0.4f + 0.2f * std::sin(x * p.sampling / 6.f) + y * p.sampling * 0.01f;
          size_t i = y * nx + x;
          if (p.type == UINT) ((uint32_t *)p.bytes.data())[i] = x * 1000003u + y * 7919u;
          else if (p.type == FLOAT) ((float *)p.bytes.data())[i] = v * 100;
          else ((half *)p.bytes.data())[i] = half(p.sampling == 2 ? (p.name[0] == 'R' ? v * 0.2f : v * -0.2f) : v);
        }
    }
    Header header(Box2i(V2i(0, 0), V2i(47, 71)), window);
    header.compression() = compression;
    for (auto &p : planes) header.channels().insert(p.name, Channel(p.type, p.sampling, p.sampling));
    const std::string file = std::string(name) + ".exr";
    {
      OutputFile out(file.c_str(), header);
      FrameBuffer frame;
      place(frame, planes, window);
      out.setFrameBuffer(frame);
      out.writePixels(height);
    }
    InputFile in(file.c_str());
    FrameBuffer frame;
    place(frame, planes, window);
    in.setFrameBuffer(frame);
    in.readPixels(window.min.y, window.max.y);
    std::ofstream truth(std::string(name) + ".bin", std::ios::binary);
    for (auto &p : planes) truth.write(p.bytes.data(), p.bytes.size());
  }
}
