// Konva's core and the few shapes that the floor is made of: the package's main entry brings all shapes and filters.
import "konva/lib/shapes/Circle";
import "konva/lib/shapes/Rect";
import "konva/lib/shapes/Transformer";
import Konva from "konva/lib/Core";

export { Konva };
export { Circle, Group, Layer, Rect, Shape, Stage, Transformer } from "react-konva/lib/ReactKonvaCore";
