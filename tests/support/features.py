"""What features reach: SIFT with a ratio test of 0.75 and RANSAC (OpenCV), beside which registration is held."""
import cv2
import numpy as np


def sift_error(path_a, path_b, truth, most, within):
    """Mean error over what of a b shows, px of b, or None where nothing is found. truth: a -> b; most: features; within: px of RANSAC."""
    a, b = (cv2.imread(path, 0) for path in (path_a, path_b))
    sift = cv2.SIFT_create(most)
    (ka, da), (kb, db) = (sift.detectAndCompute(picture, None) for picture in (a, b))
    if da is None or db is None or len(kb) < 2:
        return None
    matches = [p for p, q in cv2.BFMatcher().knnMatch(da, db, k=2) if p.distance < 0.75 * q.distance]
    if len(matches) < 8:
        return None
    found, _ = cv2.findHomography(np.float32([ka[m.queryIdx].pt for m in matches]), np.float32([kb[m.trainIdx].pt for m in matches]), cv2.RANSAC, within)
    if found is None:
        return None
    y, x = np.mgrid[0 : a.shape[0] : 25, 0 : a.shape[1] : 25]
    points = np.stack([x.ravel(), y.ravel(), np.ones(x.size)]).astype(float)
    (p, q) = ((m @ points)[:2] / (m @ points)[2] for m in (truth, found))
    shown = (p[0] >= 0) & (p[1] >= 0) & (p[0] <= b.shape[1] - 1) & (p[1] <= b.shape[0] - 1)
    return float(np.hypot(*(p - q))[shown].mean())
