#!/usr/bin/env python3
"""Trains the trees that revise strokes: train_trees.py FEATURES... > core/strokes/boosted_trees.inc

FEATURES: files of bench/features.cpp. Needs Debian's python3-sklearn."""
import sys

import numpy
from sklearn.ensemble import HistGradientBoostingClassifier

KEYS = 3  # seed, label and mic come before the features


def read(file):
    numbers = numpy.fromfile(file, dtype="f4")
    lines = numbers[1:].reshape(-1, int(numbers[0]))
    return lines[numpy.argsort(lines[:, 0], kind="stable")]  # kits come in the order in which they were done


def trained(lines, trees=300):
    model = HistGradientBoostingClassifier(
        max_iter=trees, max_leaf_nodes=8, learning_rate=0.1, min_samples_leaf=30, random_state=1)
    return model.fit(lines[:, KEYS:], lines[:, 1])


def written(number):
    text = "%.6g" % number
    return text + ("F" if "." in text or "e" in text else ".0F")


def table(model):
    roots, nodes = [], []
    for (tree,) in model._predictors:
        roots.append(len(nodes))
        for index, node in enumerate(tree.nodes):
            leaf = node["is_leaf"]
            nodes.append("{%d,%d,%d,%s}" % (
                0 if leaf else node["feature_idx"], index if leaf else node["left"], 0 if leaf else node["right"],
                written(node["value"] if leaf else node["num_threshold"])))
    return roots, nodes


def filled(items, width=116):
    line = ""
    for item in items:
        if len(line) + len(item) > width:
            yield line
            line = ""
        line += item + ","
    yield line


if __name__ == "__main__":
    model = trained(numpy.concatenate([read(file) for file in sys.argv[1:]]))
    roots, nodes = table(model)
    print("// Made by bench/train_trees.py.")
    print("constexpr std::size_t trainedOn = %d; ///< features" % model.n_features_in_)
    print("constexpr double bias = %.6g;" % float(model._baseline_prediction))
    print("constexpr std::array<std::uint16_t, %d> roots{" % len(roots))
    print("\n".join(filled([str(root) for root in roots])))
    print("};")
    print("constexpr std::array<Node, %d> nodes{{" % len(nodes))
    print("\n".join(filled(nodes)))
    print("}};")
