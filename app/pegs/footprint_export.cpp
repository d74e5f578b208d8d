// SPDX-License-Identifier: GPL-3.0-or-later
// The same drawing function as on the screen, into SVG, PDF or a picture; what is not of the drawing (hover, drag)
// is ended first.
#include "app/pegs/footprint.hpp"
#include "app/pegs/footprint_side.hpp"

#include <QImage>
#include <QPdfWriter>
#include <QSaveFile>
#include <QSvgGenerator>
#include <cmath>

namespace kp::app {

namespace {

Message stop(const QString& text) {
    return {Severity::stop, Code::export_file, text.toStdString()};
}

Status keep(QSaveFile& file) {
    if (!file.commit()) return stop(QObject::tr("%1 cannot be written: %2.").arg(file.fileName(), file.errorString()));
    return Done{};
}

}  // namespace

Status export_footprint(Footprint& footprint, const QString& path, double dots) {
    const double mm = footprint.size_mm();
    const QString ending = path.section('.', -1).toLower();
    if (ending != QLatin1String("svg") && ending != QLatin1String("png") && ending != QLatin1String("pdf"))
        return stop(QObject::tr("A footprint is written as .svg, .png or .pdf; '%1' is none of them.").arg(path));
    QSaveFile file(path);
    if (!file.open(QIODevice::WriteOnly))
        return stop(QObject::tr("%1 cannot be written: %2.").arg(path, file.errorString()));
    footprint.prepare_for_file();
    const int side = static_cast<int>(std::ceil(mm * dots));
    if (ending == QLatin1String("png")) {
        QImage image(side, side, QImage::Format_ARGB32);
        image.setDotsPerMeterX(static_cast<int>(dots * 1000));
        image.setDotsPerMeterY(static_cast<int>(dots * 1000));
        image.fill(theme().bright);
        QPainter p(&image);
        p.setRenderHint(QPainter::Antialiasing);
        footprint.draw_for_file(p, dots);
        p.end();
        if (!image.save(&file, "PNG")) return stop(QObject::tr("%1 cannot be written.").arg(path));
        return keep(file);
    }
    if (ending == QLatin1String("svg")) {
        QSvgGenerator svg;
        svg.setOutputDevice(&file);
        svg.setResolution(static_cast<int>(std::lround(dots * 25.4)));
        svg.setSize({side, side});
        svg.setViewBox(QRect(0, 0, side, side));
        svg.setTitle(QObject::tr("Footprint, %1 mm wide").arg(mm, 0, 'f', 1));
        QPainter p(&svg);
        footprint.draw_for_file(p, dots);
        p.end();
        return keep(file);
    }
    // On paper a millimetre is a millimetre; type sizes are those of the screen, so it is drawn at its dots and scaled.
    QPdfWriter pdf(&file);
    pdf.setPageSize(QPageSize(QPageSize::A4));
    pdf.setResolution(600);
    const double page = std::min(pdf.width(), pdf.height()) / (600 / 25.4);
    if (mm > page)
        return stop(
            QObject::tr("The package is %1 mm wide with its names, and the paper takes %2 mm; write an SVG instead.")
                .arg(mm, 0, 'f', 1)
                .arg(page, 0, 'f', 1));
    QPainter p(&pdf);
    p.setRenderHint(QPainter::Antialiasing);
    const double scale = 600 / 25.4 / dots;
    p.scale(scale, scale);
    footprint.draw_for_file(p, dots);
    p.end();
    return keep(file);
}

}  // namespace kp::app
