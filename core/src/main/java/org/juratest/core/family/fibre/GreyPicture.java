package org.juratest.core.family.fibre;

/**
 * A picture in shades of grey.
 *
 * @param width pixels
 * @param height pixels
 * @param level row by row, 0 black to 1 white, not copied
 */
public record GreyPicture(int width, int height, float[] level) {

    public GreyPicture {
        if (width < 1 || height < 1 || level.length != width * height) {
            throw new IllegalArgumentException(
                    "a picture of " + width + " x " + height + " pixels with " + level.length + " levels");
        }
    }

    float at(int x, int y) {
        return level[y * width + x];
    }

    /** Between pixels, whose middles have whole numbers; at the border that of the border. */
    double at(double x, double y) {
        double inX = Math.max(0, Math.min(width - 1.001, x));
        double inY = Math.max(0, Math.min(height - 1.001, y));
        int left = (int) inX;
        int top = (int) inY;
        double right = width > 1 ? inX - left : 0;
        double down = height > 1 ? inY - top : 0;
        int nextX = Math.min(width - 1, left + 1);
        int nextY = Math.min(height - 1, top + 1);
        return (at(left, top) * (1 - right) + at(nextX, top) * right) * (1 - down)
                + (at(left, nextY) * (1 - right) + at(nextX, nextY) * right) * down;
    }

    /**
     * A part of it.
     *
     * @throws IllegalArgumentException if nothing of it is in the picture
     */
    GreyPicture part(int left, int top, int right, int bottom) {
        int fromX = Math.max(0, left);
        int fromY = Math.max(0, top);
        int toX = Math.min(width, right);
        int toY = Math.min(height, bottom);
        float[] some = new float[Math.max(0, toX - fromX) * Math.max(0, toY - fromY)];
        for (int y = fromY; y < toY; y++) {
            System.arraycopy(level, y * width + fromX, some, (y - fromY) * (toX - fromX), Math.max(0, toX - fromX));
        }
        return new GreyPicture(Math.max(0, toX - fromX), Math.max(0, toY - fromY), some);
    }

    /** The same with so many pixels a side made into one, their mean; what is over at the right and below is cut. */
    GreyPicture coarser(int by) {
        if (by <= 1) {
            return this;
        }
        int w = Math.max(1, width / by);
        int h = Math.max(1, height / by);
        float[] mean = new float[w * h];
        for (int y = 0; y < Math.min(height, h * by); y++) {
            for (int x = 0; x < Math.min(width, w * by); x++) {
                mean[y / by * w + x / by] += level[y * width + x];
            }
        }
        float count = (float) by * by;
        for (int i = 0; i < mean.length; i++) {
            mean[i] /= count;
        }
        return new GreyPicture(w, h, mean);
    }

    /** The same with its noise taken down: each pixel the mean of its neighbours, weighted by a bell. */
    GreyPicture smoothed(double sigma) {
        int reach = (int) Math.ceil(3 * sigma);
        float[] bell = new float[2 * reach + 1];
        float sum = 0;
        for (int i = -reach; i <= reach; i++) {
            bell[i + reach] = (float) Math.exp(-i * i / (2 * sigma * sigma));
            sum += bell[i + reach];
        }
        for (int i = 0; i < bell.length; i++) {
            bell[i] /= sum;
        }
        float[] rows = new float[level.length];
        for (int y = 0; y < height; y++) {
            for (int x = 0; x < width; x++) {
                float mean = 0;
                for (int i = -reach; i <= reach; i++) {
                    mean += bell[i + reach] * level[y * width + Math.max(0, Math.min(width - 1, x + i))];
                }
                rows[y * width + x] = mean;
            }
        }
        float[] both = new float[level.length];
        for (int y = 0; y < height; y++) {
            for (int i = -reach; i <= reach; i++) {
                int from = Math.max(0, Math.min(height - 1, y + i)) * width;
                float weight = bell[i + reach];
                for (int x = 0; x < width; x++) {
                    both[y * width + x] += weight * rows[from + x];
                }
            }
        }
        return new GreyPicture(width, height, both);
    }
}
