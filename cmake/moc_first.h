// Read by Qt's moc before every file: it cannot parse libstdc++'s <compare> when that comes before any other header.
#include <algorithm>
