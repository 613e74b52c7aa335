#pragma once

#include "document/numbered_work.h"
#include "document/player_control.h"

#include <QWidget>

#include <functional>
#include <memory>
#include <vector>

namespace lampo {

/// By how much two sounds of the kit differ: mics x columns, dBFS.
struct DifferencePicture {
    std::vector<std::vector<float>> mics;
    std::vector<std::string> names; ///< of the mics
    FrameCount length;              ///< of the song
};

/// Listens to two plans behind the window.
class DifferenceWork : public NumberedWork {
    Q_OBJECT
public:
    using NumberedWork::NumberedWork;
    ~DifferenceWork() override;
    /// What both are is found out behind the window as well.
    using Side = std::function<Expected<Sounding>()>;
    void start(Side one, Side other);

signals:
    void found(const lampo::DifferencePicture& picture);
    /// One of them cannot be listened to, in words.
    void failed(const QString& sentence);
};

/// What two things differ by, over the whole song: a row for each mic, the higher the louder. Made when it is seen.
class DifferenceView : public QWidget {
    Q_OBJECT
public:
    explicit DifferenceView(Document& document, QWidget* parent = nullptr);
    void setWanted(const Monitored& one, const Monitored& other);
    /// Empty until it was listened to.
    const DifferencePicture& picture() const { return picture_; }

signals:
    void placeChosen(lampo::ResultFrame at);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;

private:
    DifferenceWork::Side sideOf(const Monitored& what) const;

    Document& document_;
    DifferenceWork work_;
    Monitored one_, other_;
    std::shared_ptr<const Outcome> of_; ///< that the picture is of, or will be
    DifferencePicture picture_;
    QString instead_; ///< said where there is no picture
};

} // namespace lampo
